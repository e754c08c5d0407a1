package kit

import (
	"bytes"
	"encoding/csv"
	"net/http"
	"regexp"
)

// byteOrderMark begins a file that is UTF-8 to spreadsheets too (Unicode 16.0, 23.8).
const byteOrderMark = "\ufeff"

// SendCSV answers with rows as CSV (RFC 4180) under a name for the file. No
// cell is left that a spreadsheet would take for a formula.
func SendCSV(w http.ResponseWriter, name string, rows [][]string) error {
	var out bytes.Buffer
	out.WriteString(byteOrderMark)
	c := csv.NewWriter(&out)
	c.UseCRLF = true
	for _, row := range rows {
		safe := make([]string, len(row))
		for i, cell := range row {
			safe[i] = inert(cell)
		}
		c.Write(safe) // a buffer takes all; Error would say
	}
	if c.Flush(); c.Error() != nil {
		return c.Error()
	}
	return SendFile(w, name, "text/csv; charset=utf-8", "csv", out.Bytes())
}

// formula is what a spreadsheet takes for one: at a cell's beginning, or behind a semicolon,
// by which many part cells; also in the full-width signs that some read alike.
var formula = regexp.MustCompile(`(^|;)(["\s]*)([=+\-@＝＋－＠])`)

func inert(cell string) string { return formula.ReplaceAllString(cell, "$1$2'$3") }
