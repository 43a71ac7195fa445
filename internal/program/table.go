package program

import (
	"fmt"
	"io"
	"strings"
	"unicode/utf8"
)

// columnLeast is the narrowest that Table makes a column, in characters.
const columnLeast = 8

// Table writes rows in aligned columns under a heading. If width is above 0, no line is longer: the
// widest columns are narrowed, and a cell that is cut ends with "…".
func Table(w io.Writer, heading []string, rows [][]string, width int) {
	all := append([][]string{heading}, rows...)
	widths := make([]int, len(heading))
	for _, row := range all {
		for i, cell := range row {
			widths[i] = max(widths[i], utf8.RuneCountInString(cell))
		}
	}
	if width > 0 {
		narrow(widths, width)
	}
	for _, row := range all {
		var line strings.Builder
		for i, cell := range row {
			if r := []rune(cell); len(r) > widths[i] {
				cell = strings.TrimRight(string(r[:max(0, widths[i]-1)]), " ") + "…"
			}
			if i > 0 {
				line.WriteString(gap)
			}
			fmt.Fprintf(&line, "%-*s", widths[i], cell)
		}
		fmt.Fprintln(w, strings.TrimRight(line.String(), " "))
	}
}

const gap = "   "

// narrow takes characters from the widest column until all fit into width, or none can give more.
func narrow(widths []int, width int) {
	total := len(gap) * (len(widths) - 1)
	for _, n := range widths {
		total += n
	}
	for ; total > width; total-- {
		widest := 0
		for i, n := range widths {
			if n > widths[widest] {
				widest = i
			}
		}
		if widths[widest] <= columnLeast {
			return
		}
		widths[widest]--
	}
}
