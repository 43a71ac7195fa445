package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"

	"github.com/jmoiron/sqlx"
)

// hot are statements of hot paths. They are prepared once, and run below database/sql, which takes
// about as long for a statement as SQLite does. Only the writer uses them, inside its transaction.
type hot struct {
	conn  any // the driver's connection that they are prepared for
	stmts map[string]execer
}

// execer has the methods of the driver's statements.
type execer interface {
	driver.Stmt
	driver.StmtExecContext
}

func newHot() *hot { return &hot{stmts: map[string]execer{}} }

// add adds statements, which the next prepare prepares.
func (h *hot) add(statements []string) {
	for _, query := range statements {
		if _, known := h.stmts[query]; !known {
			h.stmts[query] = nil
		}
	}
}

// close closes the statements, without which SQLite does not close their connection.
func (h *hot) close() (err error) {
	for _, stmt := range h.stmts {
		if stmt != nil {
			err = errors.Join(err, stmt.Close())
		}
	}
	return err
}

// prepare prepares the statements that are not prepared for the connection, all of them if it is
// another one: database/sql replaces a failed one. The driver cannot close statements of a closed
// connection.
func (h *hot) prepare(conn *sqlx.Conn) error {
	return conn.Raw(func(c any) error {
		for query, stmt := range h.stmts {
			if stmt != nil && c == h.conn {
				continue
			}
			made, err := c.(driver.Conn).Prepare(query)
			if err != nil {
				return err
			}
			h.stmts[query] = made.(execer)
		}
		h.conn = c
		return nil
	})
}

// exec runs a statement in the transaction of the connection, the prepared one if it is hot.
func (h *hot) exec(tx *sqlx.Tx, query string, args ...any) (sql.Result, error) {
	stmt := h.stmts[query]
	if stmt == nil {
		return tx.Exec(query, args...)
	}
	values := make([]driver.NamedValue, len(args))
	for i, arg := range args {
		value, err := driver.DefaultParameterConverter.ConvertValue(arg)
		if err != nil {
			return nil, errors.Join(errors.New("a value of a statement has no form in the database"), err)
		}
		values[i] = driver.NamedValue{Ordinal: i + 1, Value: value}
	}
	return stmt.ExecContext(context.Background(), values)
}
