package roster

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"iter"
	"regexp"
	"strings"
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

// mostJoined bounds what joining the runs of cells costs, in bytes copied (ours: half a second).
// A run is a piece of lettering (ECMA-376 part 1, 18.4.4): a reader joins those of a cell one by
// one, each time over all there are.
const mostJoined = 1 << 30

// textStarts finds where a cell's words begin, runStarts where a run does.
var (
	textStarts = regexp.MustCompile(`<(?:\w+:)?(?:si|is)[\s/>]`)
	runStarts  = regexp.MustCompile(`<(?:\w+:)?r[\s/>]`)
)

// joining returns what joining the runs of a workbook's cells costs, no further than past
// mostJoined; nothing for a file that is no ZIP.
func joining(b []byte) (cost int) {
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return 0
	}
	for _, part := range z.File {
		if !strings.HasSuffix(strings.ToLower(part.Name), ".xml") {
			continue
		}
		in, err := part.Open()
		if err != nil {
			continue
		}
		text, _ := io.ReadAll(io.LimitReader(in, mostUnpacked)) // what is damaged, the reader says
		in.Close()
		for words := range cells(text) {
			if cost += len(words) * len(runStarts.FindAllIndex(words, -1)); cost > mostJoined {
				return cost
			}
		}
	}
	return cost
}

// cells parts a workbook's part where the words of its cells begin.
func cells(text []byte) iter.Seq[[]byte] {
	return func(yield func([]byte) bool) {
		for len(text) > 0 {
			end := len(text)
			if next := textStarts.FindIndex(text[1:]); next != nil {
				end = 1 + next[0]
			}
			if !yield(text[:end]) {
				return
			}
			text = text[end:]
		}
	}
}

// workbook reads an XLSX's first sheet row by row, and no further than the
// bounds of a list.
func workbook(b []byte, as As) (List, error) {
	if joining(b) > mostJoined {
		return List{}, fmt.Errorf("%w: its words are in too many letterings; save the list alone as CSV", ErrList)
	}
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
