package app

// A hash as dear as it is for those who sign in would be most of what these tests do. The
// built service keeps its own cost: e2e signs in at that.
func init() { hashTime, hashMemory = 1, 64 }
