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

// Address is where a request comes from, without its port. Behind a proxy that the operator
// trusts it is the last address that the proxy vouches for; anybody can have written the ones
// before it. Several lines of the field are one list (RFC 9110, section 5.3): some proxies add a
// line of their own.
func (p Proxies) Address(c fiber.Ctx) netip.Addr {
	at, _ := netip.AddrFromSlice(c.RequestCtx().RemoteIP())
	at = at.Unmap()
	if !p.Have(at) {
		return at
	}
	lines := c.Request().Header.PeekAll(fiber.HeaderXForwardedFor)
	for _, line := range slices.Backward(lines) {
		hops := strings.Split(string(line), ",")
		for _, written := range slices.Backward(hops) {
			hop, err := netip.ParseAddr(strings.TrimSpace(written))
			if err != nil || !p.Have(at) {
				return at
			}
			at = hop.Unmap()
		}
	}
	return at
}

// Have tells whether an address is a proxy's.
func (p Proxies) Have(at netip.Addr) bool {
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
