package public

import (
	"context"
	"net/netip"
	"runtime"

	"github.com/gofiber/fiber/v3"
	"github.com/maypok86/otter/v2"
	"golang.org/x/time/rate"

	"glasspocket/internal/app"
	"glasspocket/internal/meter"
	"glasspocket/internal/remote"
	"glasspocket/internal/render"
)

// Asking renders what a page sets otherwise.
type Asking interface {
	ServeGiven(ctx context.Context, key string, given []app.Given) (*render.Encoded, error)
}

// Every answer is rendered anew, so one network may have so many, and the whole service
// makes no more at once than the machine has processors.
const (
	answersSecond  = 5
	answersBurst   = 60
	networksKept   = 10_000
	answersAtATime = 4
)

type asking struct {
	route    *meter.Route
	networks *otter.Cache[netip.Prefix, *rate.Limiter]
	turns    chan struct{}
}

func newAsking(route *meter.Route) asking {
	return asking{route, otter.Must(&otter.Options[netip.Prefix, *rate.Limiter]{MaximumSize: networksKept}), make(chan struct{}, max(answersAtATime, runtime.NumCPU()))}
}

// allows tells whether a network may ask once more now.
func (a *asking) allows(network netip.Prefix) bool {
	limiter, _ := a.networks.ComputeIfAbsent(network, func() (*rate.Limiter, bool) {
		return rate.NewLimiter(answersSecond, answersBurst), false
	})
	return limiter.Allow()
}

// given answers /s/KEY.json?NAME=VALUE&…, which no cache keeps.
func (d *door) given(c fiber.Ctx) error {
	key, query := c.Params("file"), c.RequestCtx().URI().QueryString()
	key = key[:len(key)-len(".json")]
	if len(query) > app.GivenBytesMost {
		return d.problem(c, fiber.StatusBadRequest, "query-too-long", "What the page sets takes more than 512 bytes.", "Set less, or make a pocket of its own for the page.")
	}
	if !d.asking.allows(remote.Network(d.Proxies.Address(c))) {
		c.Set("Retry-After", "1")
		return d.problem(c, fiber.StatusTooManyRequests, "asked-too-often", "Pockets with other settings are asked for too often from here.", "Ask again in a second.")
	}
	var given []app.Given
	c.RequestCtx().QueryArgs().All()(func(name, value []byte) bool {
		given = append(given, app.Given{Name: string(name), Value: string(value)})
		return true
	})
	d.asking.turns <- struct{}{}
	answer, err := d.Asking.ServeGiven(c, key, given)
	<-d.asking.turns
	if err != nil {
		return err
	}
	if answer == nil {
		served, err := d.Shelf.Get(c, key, render.JSON)
		if err != nil {
			return err
		}
		return d.nothing(c, key, render.JSON, served.Withheld)
	}
	return d.send(c, answer, jsonType, "no-store")
}

// askedOf tells whether a request for a payload gives it other settings.
func askedOf(c fiber.Ctx) bool { return len(c.RequestCtx().URI().QueryString()) > 0 }
