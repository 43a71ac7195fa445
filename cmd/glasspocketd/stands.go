package main

import (
	"flag"
	"fmt"
	"net"
	"net/http"
	"time"

	"glasspocket/demo"
	"glasspocket/demo/standin"
)

// stands are the demo's stand-ins for outside services, each with its own listener.
type stands struct {
	list [3]stand // Marrow Voices, Skerry, Harbour Board
}

type stand struct {
	name, about string
	make        func(now func() time.Time) *standin.StandIn
	address     *string
	listener    net.Listener
	server      *http.Server
}

func (s *stands) flags(f *flag.FlagSet) {
	s.list = [3]stand{
		{name: "voices", about: "Marrow Voices, a directory with reviews", make: standin.Voices},
		{name: "skerry", about: "Skerry, a social server", make: standin.Skerry},
		{name: "harbour", about: "Harbour Board, with notices and calendars", make: standin.Harbour},
	}
	for i := range s.list {
		each := &s.list[i]
		each.address = f.String(each.name+"-addr", fmt.Sprint("127.0.0.1:", 7443+i), "listen `address` of the stand-in "+each.about)
	}
}

func (s *stands) listen(now func() time.Time) (err error) {
	for i := range s.list {
		each := &s.list[i]
		if each.listener, err = listen(*each.address, "-"+each.name+"-addr"); err != nil {
			s.close()
			return err
		}
		each.server = &http.Server{Handler: each.make(now), ReadHeaderTimeout: 10 * time.Second}
	}
	return nil
}

func (s *stands) serve(failed chan<- error) {
	for _, each := range s.list {
		go func() { failed <- each.server.Serve(each.listener) }()
	}
}

func (s *stands) close() {
	for _, each := range s.list {
		if each.server != nil {
			each.server.Close()
		}
		if each.listener != nil {
			each.listener.Close()
		}
	}
}

func (s *stands) addresses() (list []string) {
	for _, each := range s.list {
		list = append(list, each.listener.Addr().String())
	}
	return list
}

func (s *stands) places() demo.Places {
	at := func(i int) string { return address("", s.list[i].listener.Addr()) }
	return demo.Places{Voices: at(0), Skerry: at(1), Harbour: at(2)}
}
