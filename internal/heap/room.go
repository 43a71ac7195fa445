// Package heap determines how much a process's memory may grow between two garbage collections.
package heap

// room counts as live memory, but is never touched, so it uses no physical memory.
var room []byte

// RoomBytes is the size of the memory that Room reserves.
const RoomBytes = 64 << 20

// Room lets the heap grow by about twice RoomBytes more before each collection. A small service has
// a few megabytes of live memory. With Go's default, collection at twice that size, rendering would
// spend a third of its time in collections.
func Room() {
	if room == nil {
		room = make([]byte, RoomBytes)
	}
}
