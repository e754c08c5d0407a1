package sheet

import (
	"math"
	"regexp"
	"strconv"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
)

// mostPages and mostItems are what any plan file may make of one kind of page:
// no file keeps the print room busy.
const mostPages, mostItems = 500, 200_000

// seeds are plans of every school, from a stamp to a wall of many papers.
func seeds(t testing.TB) (files [][]byte) {
	t.Helper()
	for _, r := range []grid.Request{
		{Name: "Pier", Reference: "8x9.5in", Paper: "12x18in", ReferenceSquare: "1in"},
		{Reference: "20x30cm", Paper: "A2", Method: "parts", Parts: "6x9", Panels: "2x2", Margin: "2cm", Units: "cm"},
		{Reference: "5x7in", Scale: "3", Method: "diagonals", Parts: "8", MarkBy: "folding", Picture: [2]int{500, 700}},
		{Reference: "7x9in", Scale: "200", ReferenceSquare: "1in", MarkBy: "strip", RulerZero: "1/4in"},
		{Reference: "2x3in", Paper: "18x24in", Panels: "12x12", ReferenceSquare: "0.5in", Split: "B2 4, C3 2", Letters: "down"},
	} {
		p, err := grid.Make(r)
		if err != nil {
			t.Fatal(err)
		}
		file, err := grid.Encode(p)
		if err != nil {
			t.Fatal(err)
		}
		files = append(files, file)
	}
	return files
}

// number finds the numbers of a plan file.
var number = regexp.MustCompile(`-?\d+(\.\d+)?`)

// changed writes other numbers into a plan file, by their places in it.
func changed(file []byte, values map[int]float64) []byte {
	at := -1
	return number.ReplaceAllFunc(file, func(old []byte) []byte {
		at++
		if v, ok := values[at]; ok && !math.IsNaN(v) && !math.IsInf(v, 0) {
			return strconv.AppendFloat(nil, v, 'f', -1, 64)
		}
		return old
	})
}

// Whatever plan file is taken in, every kind of page is made of it soundly or
// refused with words; nothing is drawn nowhere or without end.
func FuzzPlanPages(f *testing.F) {
	files := seeds(f)
	for i := range files {
		f.Add(uint8(i), uint8(0), 1.0, uint8(0), 1.0)
	}
	f.Add(uint8(4), uint8(9), 100.0, uint8(10), 100.0)
	letter, _ := measure.PaperNamed("Letter")
	f.Fuzz(func(t *testing.T, which, one uint8, v float64, other uint8, u float64) {
		p, err := grid.Decode(changed(files[int(which)%len(files)], map[int]float64{int(one): v, int(other): u}))
		if err != nil {
			return
		}
		w := Wish{Plan: p, Printer: page.On(letter.Size), Picture: "picture", Views: 4, Class: []Who{{Name: "Ada", Class: "7", Project: 1, Student: 2}}}
		for _, about := range Kinds {
			pages, err := Pages(about.Kind, w)
			if err != nil {
				continue
			}
			items := 0
			for _, pg := range pages {
				items += len(pg.Items)
				for _, item := range pg.Items {
					sound(t, about.Kind, item)
				}
			}
			if len(pages) > mostPages || items > mostItems {
				t.Fatalf("%s: %d pages with %d items", about.Kind, len(pages), items)
			}
		}
	})
}

// sound fails where an item stands nowhere.
func sound(t *testing.T, kind page.Kind, item page.Item) {
	t.Helper()
	ok := func(values ...float64) {
		for _, v := range values {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				t.Fatalf("%s: an item at %v: %+v", kind, values, item)
			}
		}
	}
	switch v := item.(type) {
	case page.Path:
		for _, q := range v.Points {
			ok(q.X, q.Y, v.Width)
		}
	case page.Text:
		ok(v.At.X, v.At.Y, v.Size)
	case page.Picture:
		ok(v.Box.Min.X, v.Box.Min.Y, v.Box.Max.X, v.Box.Max.Y)
	}
}
