package delivery

import (
	"hash/fnv"
	"sync"
)

// Lock returns the lock for publishing or building a pocket.
func (a *Delivery) Lock(key string) *sync.Mutex {
	return &a.publishing[hash(key)%uint32(len(a.publishing))]
}

func hash(key string) uint32 {
	h := fnv.New32a()
	h.Write([]byte(key))
	return h.Sum32()
}
