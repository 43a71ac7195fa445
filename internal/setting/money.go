package setting

import (
	"fmt"

	"github.com/bojanz/currency"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/shape"
)

// money is an amount in the currency's minor units (cents; whole yen) and its ISO 4217 code.
type money struct{}

func (money) jsonTypes() []string                      { return []string{"object"} }
func (money) controls() []string                       { return []string{"money"} }
func (money) keys() []string                           { return nil }
func (money) glass() []string                          { return nil }
func (money) shape(*Setting) *shape.Type               { return shape.Money }
func (money) read(*Setting, *jsondoc.Value) fault.List { return nil }
func (money) view(_ *Setting, v any, _ World) any      { return v }

func (money) check(s *Setting, v *jsondoc.Value) (any, problems) {
	return whole(readParts(s, v, `{"amount": 1250, "currency": "EUR"} for 12.50 euros`, []part{
		{"amount", numberPart(-1e12, 1e12, true), nil},
		{"currency", readCurrency, nil},
	}))
}

func readCurrency(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String || !currency.IsValid(v.Text) {
		return nil, one(fault.ValueChoice, fmt.Sprintf("%q is not a currency.", s.Key), `Write an ISO 4217 code, such as "EUR".`)
	}
	return v.Text, nil
}

func (money) note() Note {
	return Note{"An amount in the currency's minor units and its ISO 4217 code. `{{money .settings.price}}` writes it.", `{"amount": 1250, "currency": "EUR"}`}
}
