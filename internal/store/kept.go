package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"strings"

	"modernc.org/sqlite"
)

// keeping is the name of the driver of open databases: SQLite's, except that a connection keeps the
// statements that it has prepared. Preparing a statement takes about as long as running it.
const keeping = "sqlite-keeping"

// keptMost is how many statements a connection keeps. Lists in queries make their number endless.
const keptMost = 128

func init() { sql.Register(keeping, keeper{&sqlite.Driver{}}) }

type keeper struct{ *sqlite.Driver }

func (k keeper) Open(name string) (driver.Conn, error) {
	c, err := k.Driver.Open(name)
	if err != nil {
		return nil, err
	}
	return &keptConn{c.(connection), map[string]statement{}}, nil
}

// connection and statement have the methods of the driver that database/sql looks for.
type connection interface {
	driver.Conn
	driver.ConnPrepareContext
	driver.ConnBeginTx
	driver.ExecerContext
	driver.QueryerContext
	driver.Pinger
	driver.SessionResetter
	driver.Validator
}

type statement interface {
	driver.Stmt
	driver.StmtExecContext
	driver.StmtQueryContext
}

type keptConn struct {
	connection
	idle map[string]statement // by their text
}

// take returns a statement that nothing else uses.
func (c *keptConn) take(ctx context.Context, query string) (statement, error) {
	if s := c.idle[query]; s != nil {
		delete(c.idle, query)
		return s, nil
	}
	s, err := c.connection.PrepareContext(ctx, query)
	if err != nil {
		return nil, err
	}
	return s.(statement), nil
}

// give takes a statement back.
func (c *keptConn) give(query string, s statement) error {
	if c.idle[query] != nil {
		return s.Close()
	}
	c.idle[query] = s
	if len(c.idle) <= keptMost {
		return nil
	}
	for other, s := range c.idle { // any
		delete(c.idle, other)
		return s.Close()
	}
	return nil
}

// keepable reports whether a query is a single statement that runs again and again.
func keepable(query string) bool {
	first, _, _ := strings.Cut(query, " ")
	switch first {
	case "SELECT", "INSERT", "UPDATE", "DELETE", "WITH":
		return !strings.Contains(query, ";")
	}
	return false
}

// ExecContext implements driver.ExecerContext.
func (c *keptConn) ExecContext(ctx context.Context, query string, args []driver.NamedValue) (driver.Result, error) {
	if !keepable(query) {
		return c.connection.ExecContext(ctx, query, args)
	}
	s, err := c.take(ctx, query)
	if err != nil {
		return nil, err
	}
	r, err := s.ExecContext(ctx, args)
	if err != nil {
		s.Close()
		return nil, err
	}
	return r, c.give(query, s)
}

// QueryContext implements driver.QueryerContext.
func (c *keptConn) QueryContext(ctx context.Context, query string, args []driver.NamedValue) (driver.Rows, error) {
	if !keepable(query) {
		return c.connection.QueryContext(ctx, query, args)
	}
	s, err := c.take(ctx, query)
	if err != nil {
		return nil, err
	}
	rows, err := s.QueryContext(ctx, args)
	if err != nil {
		s.Close()
		return nil, err
	}
	return &keptRows{rows, func() error { return c.give(query, s) }}, nil
}

// Close implements driver.Conn.
func (c *keptConn) Close() (err error) {
	for _, s := range c.idle {
		err = errors.Join(err, s.Close())
	}
	clear(c.idle)
	return errors.Join(err, c.connection.Close())
}

// keptRows gives their statement back when they are closed.
type keptRows struct {
	driver.Rows
	give func() error
}

func (r *keptRows) Close() error {
	give := r.give
	if give == nil {
		return nil
	}
	r.give = nil
	return errors.Join(r.Rows.Close(), give())
}
