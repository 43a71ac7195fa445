// Package remote tells where a request comes from.
package remote

import (
	"net/netip"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// Proxies are the networks whose X-Forwarded-For is believed.
type Proxies []netip.Prefix

// Address is where a request comes from, without its port. Behind a proxy that the
// operator trusts it is the last address that the proxy vouches for; what stands before
// that in the field anybody can have written.
func (p Proxies) Address(c fiber.Ctx) netip.Addr {
	at, _ := netip.AddrFromSlice(c.RequestCtx().RemoteIP())
	at = at.Unmap()
	hops := strings.Split(c.Get("X-Forwarded-For"), ",")
	for i := len(hops) - 1; i >= 0 && p.have(at); i-- {
		hop, err := netip.ParseAddr(strings.TrimSpace(hops[i]))
		if err != nil {
			break
		}
		at = hop.Unmap()
	}
	return at
}

func (p Proxies) have(at netip.Addr) bool {
	return slices.ContainsFunc(p, func(each netip.Prefix) bool { return each.Contains(at) })
}

// Network keeps of an address what tells networks apart and not people: 24 bits of IPv4,
// 48 of IPv6.
func Network(at netip.Addr) netip.Prefix {
	bits := 48
	if at.Is4() {
		bits = 24
	}
	p, _ := at.Prefix(bits)
	return p
}
