package store

// What the tests of the whole database need.
var (
	Steps   = steps
	Inspect = inspect
)

const Pragmas = pragmas

// OnWriter runs a statement on the connection of the writes, but not as a write.
func (s *DB) OnWriter(query string) error {
	_, err := s.write.db.Exec(query)
	return err
}
