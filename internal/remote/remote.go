// Package remote determines where a request comes from.
package remote

import (
	"net/netip"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// Proxies are the networks whose X-Forwarded-For is trusted.
type Proxies []netip.Prefix

// Address returns the address of a request, without its port. Behind a trusted proxy it is the last
// address that the proxy vouches for; anybody can have written the earlier ones. Several lines of
// the field are one list (RFC 9110, section 5.3), because some proxies add their own line.
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

// Have reports whether an address is a proxy's.
func (p Proxies) Have(at netip.Addr) bool {
	return slices.ContainsFunc(p, func(each netip.Prefix) bool { return each.Contains(at) })
}

// Network reduces an address to what identifies its network but not a person: 24 bits of IPv4, 48
// of IPv6.
func Network(at netip.Addr) netip.Prefix {
	bits := 48
	if at.Is4() {
		bits = 24
	}
	p, _ := at.Prefix(bits)
	return p
}
