package fetch

import (
	"fmt"
	"net/netip"
	"strings"
)

// Allowed are private addresses that may be requested anyway: networks ("10.1.0.0/16") or a port of
// an address ("127.0.0.1:7442").
type Allowed struct {
	networks []netip.Prefix
	ports    map[netip.AddrPort]bool
}

// ReadAllowed reads a list of such addresses, separated by commas.
func ReadAllowed(text string) (a Allowed, err error) {
	a.ports = map[netip.AddrPort]bool{}
	for one := range strings.SplitSeq(text, ",") {
		if one = strings.TrimSpace(one); one == "" {
			continue
		}
		if at, err := netip.ParseAddrPort(one); err == nil {
			a.ports[at] = true
		} else if network, err := netip.ParsePrefix(one); err == nil {
			a.networks = append(a.networks, network)
		} else {
			return a, fmt.Errorf("%q is neither a network such as 10.1.0.0/16 nor an address with a port such as 127.0.0.1:7442", one)
		}
	}
	return a, nil
}

// Reaches reports whether the service may connect to an address. Every connection asks it, so that
// no name, redirect or DNS change leads elsewhere.
func (a Allowed) Reaches(at netip.AddrPort) bool {
	at = netip.AddrPortFrom(at.Addr().Unmap().WithZone(""), at.Port())
	return IsPublic(at.Addr()) || a.has(at)
}

func (a Allowed) has(at netip.AddrPort) bool {
	if a.ports[at] {
		return true
	}
	for _, n := range a.networks {
		if n.Contains(at.Addr()) {
			return true
		}
	}
	return false
}

// never are networks without public web pages: the registries' special-purpose addresses (RFC 6890
// and later additions), and those that lead to others (mapped, NAT64, 6to4, Teredo).
var never = func() (list []netip.Prefix) {
	for _, p := range []string{
		"0.0.0.0/8", "10.0.0.0/8", "100.64.0.0/10", "127.0.0.0/8", "169.254.0.0/16", "172.16.0.0/12", "192.0.0.0/24", "192.0.2.0/24", "192.88.99.0/24", "192.168.0.0/16",
		"198.18.0.0/15", "198.51.100.0/24", "203.0.113.0/24", "224.0.0.0/4", "240.0.0.0/4",
		"::/96", "::ffff:0:0/96", "64:ff9b::/96", "64:ff9b:1::/48", "100::/64", "2001::/23", "2001:db8::/32", "2002::/16", "3fff::/20", "5f00::/16", "fc00::/7", "fe80::/10", "fec0::/10", "ff00::/8",
	} {
		list = append(list, netip.MustParsePrefix(p))
	}
	return list
}()

// IsPublic reports whether an address is on the public internet.
func IsPublic(a netip.Addr) bool {
	a = a.Unmap().WithZone("")
	for _, n := range never {
		if n.Contains(a) {
			return false
		}
	}
	return a.IsValid()
}
