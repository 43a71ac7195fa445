package source

import (
	"context"
	"fmt"
	"strings"
	"sync"

	"glasspocket/internal/feed"
	"glasspocket/internal/problem"
)

// isAddress reports whether a text is an address, not the name of a business.
func isAddress(text string) bool {
	host, _, _ := strings.Cut(text, "/")
	return strings.Contains(text, "://") || !strings.ContainsAny(text, " \t") && (strings.Contains(host, ".") && !strings.HasSuffix(host, ".") || strings.Contains(host, ":"))
}

// businesses searches the operator's directories for a name. Each result has its place and its
// number of reviews, so that nobody connects the wrong business.
func (a *Sources) businesses(ctx context.Context, text string) ([]Business, error) {
	if len(a.directories) == 0 {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "source-no-directory", Field: "text", What: "This service has no directory in which it could search for a name.", Hint: "Enter the address of the page that has your reviews, a feed, or a @name@host."}
	}
	var all []Business
	var why error
	for _, address := range a.directories {
		list, err := a.searched(ctx, address, text)
		if err != nil {
			why = err
			a.notice("a directory cannot be searched", "directory", address, "error", err)
		}
		all = append(all, list...)
	}
	if len(all) == 0 && why != nil {
		return nil, lookError(why)
	}
	if len(all) == 0 {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "source-not-found", Field: "text", What: fmt.Sprintf("No directory has a business named “%s”.", text), Hint: "Check the spelling, or enter the address of the page that has your reviews."}
	}
	return all, nil
}

func (a *Sources) searched(ctx context.Context, address, text string) ([]Business, error) {
	answer, err := a.web.Ask(ctx, feed.Ask{Address: address, Accept: "application/opensearchdescription+xml"})
	if err != nil {
		return nil, err
	}
	directory, err := feed.ReadDirectory(&answer.Document)
	if err != nil {
		return nil, err
	}
	answer, err = a.web.Ask(ctx, feed.Ask{Address: directory.Suggests(text), Accept: "application/x-suggestions+json, application/json"})
	if err != nil {
		return nil, err
	}
	found, err := feed.ReadSuggestions(&answer.Document)
	if err != nil {
		return nil, err
	}
	list := make([]Business, len(found))
	var all sync.WaitGroup
	for i, s := range found {
		list[i] = Business{Name: s.Name, Place: s.About, Address: s.Address, Directory: directory.Name}
		all.Go(func() {
			page, err := a.web.Ask(ctx, feed.Ask{Address: s.Address, Accept: "text/html"})
			if err != nil {
				return
			}
			if name, place, rated, ok := feed.Subject(&page.Document); ok {
				list[i].Name, list[i].Place, list[i].Reviews = name, place, rated.Count
				if rated.Best > 0 {
					list[i].Rating = rated.Value / rated.Best * 5
				}
			}
		})
	}
	all.Wait()
	return list, nil
}
