// Package paging describes parts of lists.
package paging

// Page selects a part of a list: at most Limit rows after the row named After.
type Page struct {
	After string
	Limit int
}
