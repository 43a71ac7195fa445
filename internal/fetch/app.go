package fetch

import (
	"context"
	"errors"

	"glasspocket/internal/onpage"
	"glasspocket/internal/problem"
)

// FetchPage implements app.PageSource.
func (f *Fetcher) FetchPage(ctx context.Context, address string) (onpage.Page, error) {
	page, err := f.Page(ctx, address)
	var own *Error
	if errors.As(err, &own) {
		return onpage.Page{}, &problem.Error{Kind: problem.Invalid, Code: string(own.Reason), Field: "address", What: own.What, Hint: own.Hint}
	}
	if err != nil {
		return onpage.Page{}, err
	}
	return onpage.Page{Address: page.Address, HTML: page.HTML, Policy: page.Policy}, nil
}
