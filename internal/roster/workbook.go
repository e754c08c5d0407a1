package roster

import (
	"bytes"
	"fmt"
	"time"

	"github.com/xuri/excelize/v2"
)

// A workbook's bounds: its parts unpacked, in bytes, and how long it is read.
const (
	mostUnpacked = 24 << 20
	longestRead  = 5 * time.Second
	wide         = 1000 // cells of a row: a stray one far out is passed over,
	mostWide     = 20   // but not in row after row
)

// workbook reads an XLSX's first sheet row by row, and no further than the
// bounds of a list.
func workbook(b []byte, as As) (List, error) {
	book, err := excelize.OpenReader(bytes.NewReader(b), excelize.Options{UnzipSizeLimit: mostUnpacked, UnzipXMLSizeLimit: mostUnpacked})
	if err != nil {
		return List{}, fmt.Errorf("%w: the workbook is damaged, has a password, or is very large; save the list alone as CSV", ErrList)
	}
	defer book.Close()
	sheets := book.GetSheetList()
	if len(sheets) == 0 {
		return List{}, fmt.Errorf("%w: the workbook has no sheet", ErrList)
	}
	in, err := book.Rows(sheets[0])
	if err != nil {
		return List{}, fmt.Errorf("%w: the workbook's first sheet cannot be read", ErrList)
	}
	defer in.Close()
	var rows [][]string
	strays := 0
	for until := time.Now().Add(longestRead); in.Next(); {
		row, err := in.Columns()
		switch {
		case err != nil:
			return List{}, fmt.Errorf("%w: row %d of the workbook cannot be read", ErrList, len(rows)+1)
		case len(rows) >= MostRows:
			return List{}, fmt.Errorf("%w: it has more than %d rows", ErrList, MostRows)
		case time.Now().After(until):
			return List{}, fmt.Errorf("%w: the workbook is too much at once; save the list alone as CSV", ErrList)
		}
		if len(row) > wide {
			if strays++; strays > mostWide {
				return List{}, fmt.Errorf("%w: its rows reach over %d columns; save the list's columns alone", ErrList, len(row))
			}
		}
		rows = append(rows, append([]string(nil), row[:min(len(row), mostColumns)]...))
	}
	return fromRows(rows, "XLSX", as)
}
