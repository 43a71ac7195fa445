// Package processors determines how many threads run Go code.
package processors

import (
	"os"
	"runtime"
)

var count = runtime.GOMAXPROCS(0)

// Count returns how many processors the process may use. It is the number of goroutines that share a
// calculation.
func Count() int { return count }

// threadsLeast is enough that a request is seldom left waiting behind background work.
const threadsLeast = 4

// Oversubscribe lets more threads run than there are processors, if there are few. Go looks for new
// requests only when a thread has nothing else to do, or every 10 ms, so two threads in background
// work would leave visitors waiting. With more threads, the operating system divides the time,
// which it does more finely. The environment variable GOMAXPROCS takes precedence.
func Oversubscribe() {
	if os.Getenv("GOMAXPROCS") == "" && count < threadsLeast {
		runtime.GOMAXPROCS(threadsLeast)
	}
}
