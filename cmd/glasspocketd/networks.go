package main

import (
	"fmt"
	"net"
	"net/netip"
	"sync"
	"time"

	"github.com/valyala/fasthttp"

	"glasspocket/internal/app/access"
	"glasspocket/internal/remote"
)

// connectionsEach is the default number of connections of one network.
const connectionsEach = 500

// perNetwork is a listener that limits the connections of each network, so that one client cannot
// occupy all of them. A trusted proxy has everybody's connections, and is not limited.
type perNetwork struct {
	net.Listener
	most    int // 0 for no limit
	proxies remote.Proxies
	mu      sync.Mutex
	open    map[netip.Prefix]int
}

// limited limits the connections of l. It learns from server's hook when one ends, because a
// wrapped connection would slow down every response.
func limited(l net.Listener, server *fasthttp.Server, most int, proxies remote.Proxies) net.Listener {
	n := &perNetwork{Listener: l, most: most, proxies: proxies, open: map[netip.Prefix]int{}}
	server.ConnState = func(c net.Conn, state fasthttp.ConnState) {
		if state == fasthttp.StateClosed || state == fasthttp.StateHijacked {
			n.closed(c)
		}
	}
	return n
}

const tooMany = `{"type":"about:blank","title":"Service Unavailable","status":503,"code":"too-many-connections","detail":"Your network has too many connections open.","hint":"Close some, or reuse them."}`

// Accept implements net.Listener.
func (n *perNetwork) Accept() (net.Conn, error) {
	for {
		c, err := n.Listener.Accept()
		if err != nil || n.admitted(c) {
			return c, err
		}
		c.SetDeadline(time.Now().Add(time.Second)) // such a short response never blocks
		fmt.Fprintf(c, "HTTP/1.1 503 Service Unavailable\r\nContent-Type: application/problem+json\r\nContent-Length: %d\r\nRetry-After: 10\r\nConnection: close\r\n\r\n%s", len(tooMany), tooMany)
		c.Close()
	}
}

func (n *perNetwork) admitted(c net.Conn) bool {
	network, counts := n.of(c)
	if !counts {
		return true
	}
	n.mu.Lock()
	defer n.mu.Unlock()
	if n.open[network] >= n.most {
		return false
	}
	n.open[network]++
	return true
}

func (n *perNetwork) closed(c net.Conn) {
	network, counts := n.of(c)
	if !counts {
		return
	}
	n.mu.Lock()
	defer n.mu.Unlock()
	if n.open[network]--; n.open[network] <= 0 {
		delete(n.open, network)
	}
}

func (n *perNetwork) of(c net.Conn) (network netip.Prefix, counts bool) {
	at, ok := c.RemoteAddr().(*net.TCPAddr)
	if !ok || n.most <= 0 {
		return network, false
	}
	address := at.AddrPort().Addr().Unmap()
	return access.NetworkOf(address), !n.proxies.Have(address)
}
