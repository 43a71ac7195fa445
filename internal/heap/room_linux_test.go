package heap

import (
	"os"
	"runtime"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What was made, and never touched, is no memory of the machine's.
func TestRoom(t *testing.T) {
	before := resident(t)
	Room()
	runtime.GC()
	var stats runtime.MemStats
	runtime.ReadMemStats(&stats)
	assert.GreaterOrEqual(t, stats.NextGC, uint64(2*RoomBytes))
	assert.Less(t, resident(t)-before, RoomBytes/4)
}

// resident is the memory that this process holds, in bytes.
func resident(t *testing.T) int {
	text, err := os.ReadFile("/proc/self/statm")
	require.NoError(t, err)
	pages, err := strconv.Atoi(strings.Fields(string(text))[1])
	require.NoError(t, err)
	return pages * os.Getpagesize()
}
