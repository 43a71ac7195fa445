package fetch

import (
	"context"
	"errors"

	"glasspocket/internal/app"
	"glasspocket/internal/onpage"
)

// FetchPage implements app.PageSource.
func (f *Fetcher) FetchPage(ctx context.Context, address string) (onpage.Page, error) {
	page, err := f.Page(ctx, address)
	var own *Error
	if errors.As(err, &own) {
		return onpage.Page{}, &app.Error{Kind: app.Invalid, Code: string(own.Reason), Field: "address", What: own.What, Hint: own.Hint}
	}
	if err != nil {
		return onpage.Page{}, err
	}
	return onpage.Page{Address: page.Address, HTML: page.HTML, Policy: page.Policy}, nil
}
