package kit

import (
	"encoding/csv"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
)

// Any CSV reader gets the cells back, none of them a formula (the cells that
// begin one are common practice in spreadsheets, no source).
func TestSendCSV(t *testing.T) {
	rows := [][]string{{"a", "", `say "so"`}, {"two\nlines", "x,y", "é □"}, {"=1+1", "+44", "-5"}, {"@cmd", "'=1", "'plain"}}
	w := httptest.NewRecorder()
	if err := SendCSV(w, "Room “7”/b", rows); err != nil {
		t.Fatal(err)
	}
	if got := w.Header().Get("Content-Type"); got != "text/csv; charset=utf-8" {
		t.Errorf("it is sent as %q", got)
	}
	if got := w.Header().Get("Content-Disposition"); !strings.Contains(got, ".csv") || strings.ContainsAny(got, "/\n") {
		t.Errorf("its name is %q", got)
	}
	if !strings.Contains(w.Body.String(), "a,,\"say \"\"so\"\"\"\r\n") {
		t.Errorf("the first row is not as RFC 4180, 2, has it: %q", w.Body.String())
	}
	back, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(w.Body.String(), byteOrderMark))).ReadAll()
	if err != nil || len(back) != len(rows) {
		t.Fatalf("%d rows, %v", len(back), err)
	}
	for i, row := range back {
		for j, cell := range row {
			if cell != "" && strings.ContainsRune("=+-@", rune(cell[0])) {
				t.Errorf("row %d has the formula %q", i, cell)
			}
			if !slices.Contains([]string{cell, strings.TrimPrefix(cell, "'")}, rows[i][j]) {
				t.Errorf("row %d came back as %q; want %q", i, cell, rows[i][j])
			}
		}
	}
}

// No cell is a formula to a spreadsheet, whichever sign parts cells there.
func TestCellsAreInert(t *testing.T) {
	for cell, want := range map[string]string{"=1+1": "'=1+1", "Ada": "Ada", "a=b": "a=b",
		"Ada;=cmd()": "Ada;'=cmd()", "＝1": "'＝1", " \t@x": " \t'@x", `x;"＋1`: `x;"'＋1`, "2026-11-30": "2026-11-30",
		"": ""} {
		if got := inert(cell); got != want {
			t.Errorf("%q is written %q; want %q", cell, got, want)
		}
	}
	w := httptest.NewRecorder()
	if err := SendCSV(w, "list", [][]string{{"Zoé"}}); err != nil || w.Body.String() != "\xef\xbb\xbfZoé\r\n" {
		t.Errorf("%q, %v; want a byte-order mark and UTF-8", w.Body, err)
	}
}
