// Package heap settles how much the memory of a process may grow between two collections.
package heap

// room is counted as living and never touched, so that it takes none of the machine's memory.
var room []byte

// RoomBytes is how much Room makes.
const RoomBytes = 64 << 20

// Room lets the heap grow by about twice RoomBytes more before it is collected. What lives in
// a service that has little to keep is a few megabytes; collected at twice that, as Go does by
// itself, rendering would spend a third of its time on collections.
func Room() {
	if room == nil {
		room = make([]byte, RoomBytes)
	}
}
