package store

import (
	"context"
	"database/sql/driver"
	"errors"
	"io"
	"sync"

	"modernc.org/sqlite"

	"glasspocket/internal/problem"
)

// lookupConnections is how many lookups run at once. Few, because each connection has its own cache
// of pages.
const lookupConnections = 4

// Lookups are queries of the hottest path, each for one row by one key. They have connections of
// their own, below database/sql and sqlx, which take longer for a row than SQLite does. A query
// should have few columns: the driver reads the name and the type of each one, every time.
type Lookups struct {
	file    string
	queries []string
	free    chan *lookup // nil is a connection that is not open yet
	ending  sync.Once
	ended   chan struct{}
}

type lookup struct {
	conn  driver.Conn
	stmts []statement
}

// Lookups returns lookups with these queries, each with one parameter. Call it before the database
// is used concurrently. An error means that SQLite does not accept one of them.
func (s *DB) Lookups(queries ...string) (*Lookups, error) {
	l := &Lookups{file: s.file, queries: queries, free: make(chan *lookup, lookupConnections), ended: make(chan struct{})}
	for range lookupConnections - 1 {
		l.free <- nil
	}
	first, err := l.open()
	if err != nil {
		return nil, err
	}
	l.free <- first
	s.lookups = append(s.lookups, l)
	return l, nil
}

func (l *Lookups) open() (*lookup, error) {
	// Inner pages of the indexes stay in the cache, 8 MiB for each connection.
	conn, err := (&sqlite.Driver{}).Open(l.file + pragmas + "&_pragma=query_only(1)&_pragma=cache_size(-8192)")
	if err != nil {
		return nil, err
	}
	c := &lookup{conn: conn}
	for _, query := range l.queries {
		stmt, err := conn.Prepare(query)
		if err != nil {
			c.close()
			return nil, err
		}
		c.stmts = append(c.stmts, stmt.(statement))
	}
	return c, nil
}

// Row runs query number n and fills row, with one element for each column: int64, float64, string,
// []byte or nil. If no row has that key, it returns problem.ErrNotFound. A failed connection is
// replaced.
func (l *Lookups) Row(n int, key string, row []driver.Value) (err error) {
	var c *lookup
	select {
	case c = <-l.free:
	case <-l.ended:
		return errors.New("the database is closed")
	}
	defer func() { l.free <- c }()
	if c == nil {
		if c, err = l.open(); err != nil {
			return Translated(err)
		}
	}
	if err = c.row(n, key, row); err != nil && !errors.Is(err, problem.ErrNotFound) {
		c.close() // its state is unknown, so the next lookup opens another connection
		c = nil
	}
	return Translated(err)
}

func (c *lookup) row(n int, key string, row []driver.Value) (err error) {
	rows, err := c.stmts[n].QueryContext(context.Background(), []driver.NamedValue{{Ordinal: 1, Value: key}})
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	if err = rows.Next(row); err == io.EOF {
		return problem.ErrNotFound
	}
	return err
}

func (c *lookup) close() (err error) {
	for _, stmt := range c.stmts {
		err = errors.Join(err, stmt.Close())
	}
	return errors.Join(err, c.conn.Close())
}

// close waits for lookups that are running.
func (l *Lookups) close() (err error) {
	l.ending.Do(func() {
		defer close(l.ended)
		for range lookupConnections {
			if c := <-l.free; c != nil {
				err = errors.Join(err, c.close())
			}
		}
	})
	return err
}
