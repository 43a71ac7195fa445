package customer

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/idna"

	"glasspocket/internal/problem"
)

// SitesMost is the largest number of sites of a customer.
const SitesMost = 100

var siteForm = regexp.MustCompile(`^(\*\.)?[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*(:\d{1,5})?$`)

// readSites reads domains: "shop.example", "*.shop.example", "localhost:8080". It removes the other
// parts of an address, and converts other alphabets as browsers do (RFC 5891).
func readSites(given []string) ([]string, error) {
	if len(given) > SitesMost {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "too-many-sites", Field: "sites", What: fmt.Sprintf("A customer can have at most %d sites.", SitesMost), Hint: "To include all subdomains, write *. before a domain."}
	}
	sites := []string{}
	for i, text := range given {
		site := strings.ToLower(strings.TrimSpace(text))
		if _, after, ok := strings.Cut(site, "://"); ok {
			site = after
		}
		site, _, _ = strings.Cut(site, "/")
		wild := strings.HasPrefix(site, "*.")
		host, port, _ := strings.Cut(strings.TrimPrefix(site, "*."), ":")
		if ascii, err := idna.Lookup.ToASCII(host); err == nil {
			site = ascii
			if wild {
				site = "*." + site
			}
			if port != "" {
				site += ":" + port
			}
		}
		if len(site) > 253 || !siteForm.MatchString(site) {
			return nil, &problem.Error{Kind: problem.Invalid, Code: "site-form", Field: fmt.Sprintf("sites/%d", i), What: fmt.Sprintf("%q is not a domain.", text), Hint: "Write shop.example, or *.shop.example for all its subdomains."}
		}
		if !slices.Contains(sites, site) {
			sites = append(sites, site)
		}
	}
	return sites, nil
}
