package main

import (
	"errors"
	"fmt"
	"io"
	"net"
	"syscall"
	"time"
)

// listen is net.Listen with errors that say what to do. option names the flag to change.
func listen(address, option string) (net.Listener, error) {
	l, err := net.Listen("tcp", address)
	switch {
	case errors.Is(err, syscall.EADDRINUSE):
		return nil, fmt.Errorf("another program uses the address %s. Stop it, or choose another address with %s (port 0 means any free port)", address, option)
	case errors.Is(err, syscall.EACCES):
		return nil, fmt.Errorf("this user is not allowed to use the address %s. Choose a port from 1024 with %s", address, option)
	case err != nil:
		return nil, fmt.Errorf("cannot listen on %s from %s: %w", address, option, err)
	}
	return l, nil
}

// patient is a listener that closes connections so that the last response arrives. A connection
// that is closed while the client is still sending is reset, and the client sees the reset instead
// of the response that would explain it (RFC 9112, section 9.6).
type patient struct{ net.Listener }

func (p patient) Accept() (net.Conn, error) {
	c, err := p.Listener.Accept()
	if tcp, ok := c.(*net.TCPConn); ok {
		return &lingering{TCPConn: tcp}, nil
	}
	return c, err
}

// Limits of what is still read from a client after the response.
const (
	lingerTime  = time.Second
	lingerBytes = 64 << 20
)

// lingers limits how many connections linger at once. Beyond that they are closed at once.
var lingers = make(chan struct{}, 256)

type lingering struct{ *net.TCPConn }

func (l *lingering) Close() error {
	select {
	case lingers <- struct{}{}:
	default:
		return l.TCPConn.Close()
	}
	if err := l.CloseWrite(); err != nil { // the client has disconnected
		<-lingers
		return l.TCPConn.Close()
	}
	go func() {
		defer func() { <-lingers }()
		l.SetReadDeadline(time.Now().Add(lingerTime))
		io.CopyN(io.Discard, l.TCPConn, lingerBytes)
		l.TCPConn.Close()
	}()
	return nil
}
