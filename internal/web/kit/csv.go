package kit

import (
	"bytes"
	"encoding/csv"
	"net/http"
	"strings"
)

// SendCSV answers with rows as CSV (RFC 4180) under a name for the file. No
// cell is left that a spreadsheet would take for a formula.
func SendCSV(w http.ResponseWriter, name string, rows [][]string) error {
	var out bytes.Buffer
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

func inert(cell string) string {
	if cell != "" && strings.ContainsRune("=+-@", rune(cell[0])) {
		return "'" + cell
	}
	return cell
}
