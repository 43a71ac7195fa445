package source

import (
	"math/rand/v2"
	"time"
)

// How often sources are fetched.
const (
	usualPace    = 30 * time.Minute // of a source that does not say
	quickestPace = 5 * time.Minute  // whatever a source says
	slowestPace  = 24 * time.Hour
	pushedPace   = 12 * time.Hour     // of a source that reports its changes
	rereadAfter  = 7 * 24 * time.Hour // a calendar with recurring dates is read again, though it has not changed
)

// pace returns how long to wait for the next fetch after a success. A source that does not change
// is fetched less often: unchanged counts the fetches without a change.
func pace(p Progress, fresh time.Duration, pushed bool) time.Duration {
	wait := usualPace
	switch {
	case pushed:
		wait = pushedPace
	case p.Unchanged > 48*7: // about a week
		wait = 8 * usualPace
	case p.Unchanged > 48*2:
		wait = 4 * usualPace
	case p.Unchanged > 48:
		wait = 2 * usualPace
	}
	if asked := max(time.Duration(p.Every)*time.Second, fresh); asked > 0 {
		wait = asked
		if pushed {
			wait = max(asked, pushedPace)
		}
	}
	return jittered(min(max(wait, quickestPace), slowestPace))
}

// backoff returns how long to wait after a failure: longer each time, and as long as the source
// asks for.
func backoff(failures int, asked time.Duration) time.Duration {
	wait := time.Minute << min(failures, 9)
	return jittered(min(max(wait, asked, time.Minute), slowestPace))
}

// jittered adds up to a tenth, so that sources that were connected together are not fetched
// together for ever.
func jittered(wait time.Duration) time.Duration { return wait + rand.N(wait/10+1) }
