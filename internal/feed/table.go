package feed

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"glasspocket/internal/clip"
	"glasspocket/internal/item"
)

func isTable(d *Document) bool {
	switch d.media() {
	case "text/csv", "text/tab-separated-values", "application/csv":
		return true
	}
	if ext := d.extension(); ext == ".csv" || ext == ".tsv" {
		return true
	}
	first, _, _ := strings.Cut(d.head(), "\n")
	return !strings.HasPrefix(first, "<") && !strings.HasPrefix(first, "{") && strings.ContainsAny(first, ",;\t") && len(first) < 2000 && (d.media() == "text/plain" || d.extension() == ".txt")
}

// separatorOf determines what separates the cells: what the first rows have most often, and equally
// often.
func separatorOf(text string) rune {
	best, most := ',', -1
	for _, s := range []rune{',', ';', '\t', '|'} {
		r := csv.NewReader(strings.NewReader(text))
		r.Comma, r.LazyQuotes, r.FieldsPerRecord = s, true, -1
		columns, even := 0, 0
		for range 12 {
			row, err := r.Read()
			if err != nil {
				break
			}
			if columns == 0 {
				columns = len(row)
			}
			if len(row) == columns {
				even++
			}
		}
		if points := (columns - 1) * even; points > most {
			best, most = s, points
		}
	}
	return best
}

// rows reads a table (RFC 4180, with any separator). The first row has the names of the columns.
func rows(d *Document, f *Found) (columns []string, list [][]string, err error) {
	text := strings.TrimPrefix(d.Text(), "\ufeff")
	if line, rest, ok := strings.Cut(text, "\n"); ok && strings.HasPrefix(line, "sep=") { // as spreadsheets write it
		text = rest
	}
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.LazyQuotes, r.FieldsPerRecord = separatorOf(text), true, -1
	columns, err = r.Read()
	if err != nil {
		return nil, nil, &Error{What: d.named() + " has no rows.", Hint: "The first row must have the names of the columns."}
	}
	for i := range columns {
		columns[i] = strings.TrimSpace(columns[i])
		if columns[i] == "" {
			columns[i] = fmt.Sprintf("Column %d", i+1)
		}
	}
	ragged := 0
	for len(list) < ItemsMost {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			f.skip("A row cannot be read: %v.", err)
			continue
		}
		if len(row) != len(columns) {
			ragged++
		}
		list = append(list, row)
	}
	if ragged > 0 {
		f.repair("%d rows have more or fewer cells than there are columns. Missing cells are empty.", ragged)
	}
	return columns, list, nil
}

// readTable makes an item of each row.
func readTable(_ context.Context, d *Document, o Options) (*Found, error) {
	f := &Found{Title: strings.TrimSuffix(d.Name, d.extension())}
	columns, list, err := rows(d, f)
	if err != nil {
		return nil, err
	}
	mapping := o.Mapping
	if len(mapping) == 0 {
		mapping = guess(columns)
	}
	at := map[string]int{}
	for field, column := range mapping {
		i := slices.Index(columns, column)
		if i < 0 {
			return nil, &Error{What: fmt.Sprintf("The table has no column “%s”. It has %s.", clip.Input(column), quoted(columns)), Hint: "Choose another column for " + field + ", or add the column again."}
		}
		at[field] = i
	}
	if len(at) == 0 {
		return nil, &Error{What: fmt.Sprintf("The service does not know which columns of the table to show. It has %s.", quoted(columns)), Hint: "Choose a column for each field."}
	}
	for _, row := range list {
		it := fill(d, f, o.Kind, func(field string) string {
			if i, ok := at[field]; ok && i < len(row) {
				return row[i]
			}
			return ""
		})
		if !empty(&it) {
			f.Items = append(f.Items, it)
		}
	}
	return f, nil
}

func quoted(names []string) string {
	if len(names) == 0 {
		return "none"
	}
	var list []string
	for _, n := range names[:min(len(names), 12)] {
		list = append(list, "“"+clip.Text(n, 40)+"”")
	}
	return strings.Join(list, ", ")
}

// Cell is a column or a JSON value, with the start of its first values.
type Cell struct {
	Name   string   `json:"name"` // of the column, or JSON Pointer below an item
	Values []string `json:"values"`
}

// Outline is what a mapping can choose from.
type Outline struct {
	Lists   []string          `json:"lists,omitempty"` // JSON Pointers of the lists of objects
	Cells   []Cell            `json:"cells"`
	Mapping map[string]string `json:"mapping"` // the present one, or a guess
}

// OutlineOf returns what a mapping of a table or a JSON document can choose from.
func OutlineOf(d *Document, reader string, o Options) (out Outline, err error) {
	out.Mapping = o.Mapping
	if reader == "json" {
		return outlineJSON(d, o)
	}
	columns, list, err := rows(d, &Found{})
	if err != nil {
		return out, err
	}
	if len(out.Mapping) == 0 {
		out.Mapping = guess(columns)
	}
	for i, name := range columns {
		cell := Cell{Name: name}
		for _, row := range list {
			if i < len(row) && strings.TrimSpace(row[i]) != "" && len(cell.Values) < 3 {
				cell.Values = append(cell.Values, item.Line(row[i], 80))
			}
		}
		out.Cells = append(out.Cells, cell)
	}
	return out, nil
}
