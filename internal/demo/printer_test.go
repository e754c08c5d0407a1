package demo

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/values"
	"zestysketch/internal/render"
)

const ppi = 300

// tool runs an independent program of Debian's.
func tool(t *testing.T, name string, args ...string) string {
	t.Helper()
	out, err := exec.Command(name, args...).CombinedOutput()
	if err != nil {
		t.Fatalf("%s %v: %v\n%s", name, args, err, out)
	}
	return string(out)
}

// output is tool without what the program says on standard error.
func output(t *testing.T, name string, args ...string) string {
	t.Helper()
	out, err := exec.Command(name, args...).Output()
	if err != nil {
		t.Fatalf("%s %v: %v", name, args, err)
	}
	return string(out)
}

// allKinds returns the pages of every kind of one plan, and their pictures.
func allKinds(t *testing.T, paper string, pr page.Printer) ([]page.Page, render.Pictures) {
	t.Helper()
	file := lighthouse()
	plan, err := grid.Make(grid.Request{Name: "Harbour light", Picture: [2]int{525, 675}, Reference: "6in", Paper: "12x18in", ReferenceSquare: "1 1/2in", SheetSquare: "2in", Split: "B2 2"})
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(file)
	if err != nil {
		t.Fatal(err)
	}
	read, err := reading.Picture(plan, img, true, reading.Lines, reading.Thirds)
	if err != nil {
		t.Fatal(err)
	}
	const shownSide = 1200 // pixels
	f := photo.SheetFrame(plan, shownSide)
	shown, usual := photo.Wanted(plan, photo.NewShot(img), f), values.Usual
	usual.PerMM = f.PerMM
	sketch, err := lines.Draw(shown, lines.Wish{Detail: lines.Usual, PerMM: f.PerMM, Drawing: true})
	if err != nil {
		t.Fatal(err)
	}
	tones, err := values.New(shown, usual)
	if err != nil {
		t.Fatal(err)
	}
	w := sheet.Wish{Plan: plan, Boxes: read.Boxes, Printer: pr, Reduced: sheet.Reduced{Lines: sketch, Map: tones},
		Who: sheet.Who{Name: "Ζωή Őrsi", Class: "7 Quay", Link: "http://192.168.1.20:8080/s/abcdefghijklmnopqrstuvwxyz",
			Project: 12, Student: 345},
		Class: []sheet.Who{{Name: "Ζωή", Class: "7 Quay", Project: 12, Student: 345}}, Landmarks: []string{"Tip of the mast"}, Pins: []reading.Pin{{Name: "Tip of the mast", At: plane.Pt(30, 60)}}}
	var pages []page.Page
	for _, about := range sheet.Kinds {
		made, err := sheet.Pages(about.Kind, w)
		if err != nil {
			t.Fatalf("%s on %s: %v", about.Kind, paper, err)
		}
		pages = append(pages, made...)
	}
	return pages, render.Pictures{sheet.FramePicture: file}
}

// lighthouse is the demo's picture, encoded once.
var lighthouse = sync.OnceValue(func() []byte {
	var file bytes.Buffer
	png.Encode(&file, render.Pixels(harbourLight().Page, 3, nil)) // to memory: cannot fail
	return file.Bytes()
})

func writePDF(t *testing.T, pages []page.Page, pictures render.Pictures) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "p.pdf")
	var out bytes.Buffer
	if err := render.PDF(&out, "Harbour light", pages, pictures); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(file, out.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	return file
}

// rasters returns pages of a PDF as poppler draws them in grey.
func rasters(t *testing.T, file string, numbers []int) map[int]*image.Gray {
	t.Helper()
	out := map[int]*image.Gray{}
	for _, n := range numbers {
		base := strings.TrimSuffix(file, ".pdf")
		tool(t, "pdftoppm", "-r", fmt.Sprint(ppi), "-f", fmt.Sprint(n), "-l", fmt.Sprint(n), "-singlefile", "-gray", file, base)
		b, err := os.ReadFile(base + ".pgm")
		if err != nil {
			t.Fatal(err)
		}
		var w, h, most int
		if _, err := fmt.Sscanf(string(b[:min(len(b), 32)]), "P5\n%d %d\n%d", &w, &h, &most); err != nil || len(b) < w*h {
			t.Fatalf("page %d: not a grey raster: %v", n, err)
		}
		out[n] = &image.Gray{Pix: b[len(b)-w*h:], Stride: w, Rect: image.Rect(0, 0, w, h)}
	}
	return out
}

// straight is an upright or level line on a page, mm.
type straight struct {
	level    bool
	at       float64
	from, to float64
}

// straights returns a page's dark lines, and everything that may lie beside them.
func straights(p page.Page) (lines []straight) {
	for _, item := range p.Items {
		path, ok := item.(page.Path)
		if !ok || path.Width == 0 || path.Dash > 0 || int(path.Stroke.R)+int(path.Stroke.G) > 420 {
			continue
		}
		points := path.Points
		if path.Closed {
			points = append(append([]plane.Point{}, points...), points[0])
		}
		for i := 1; i < len(points); i++ {
			a, b := points[i-1], points[i]
			switch {
			case math.Abs(a.X-b.X) < 1e-9 && math.Abs(a.Y-b.Y) > 1.9:
				lines = append(lines, straight{false, a.X, min(a.Y, b.Y), max(a.Y, b.Y)})
			case math.Abs(a.Y-b.Y) < 1e-9 && math.Abs(a.X-b.X) > 1.9:
				lines = append(lines, straight{true, a.Y, min(a.X, b.X), max(a.X, b.X)})
			}
		}
	}
	return lines
}

// lonely returns where a line is on the raster, mm, at the first place along it
// that has nothing else within a millimetre; ok is false if there is none.
func lonely(img image.Image, l straight) (got float64, ok bool) {
	const k, around = ppi / 25.4, 14 // pixels a millimetre, and in 1.2 mm
	dark := func(along, across int) float64 {
		x, y := across, along
		if l.level {
			x, y = y, x
		}
		if !image.Pt(x, y).In(img.Bounds()) {
			return 255
		}
		r, _, _, _ := img.At(x, y).RGBA()
		return 255 - float64(r>>8)
	}
	for t := 0.15; t < 0.9; t += 0.07 {
		along, middle := int((l.from+(l.to-l.from)*t)*k), int(l.at*k)
		var sum, weight float64
		alone := true
		for i := middle - around; i <= middle+around; i++ {
			d := dark(along, i)
			if math.Abs(float64(i-middle)) > 0.7*k {
				alone = alone && d < 12
				continue
			}
			sum += d * (float64(i) + 0.5)
			weight += d
		}
		if alone && weight > 60 {
			return sum / weight / k, true
		}
	}
	return 0, false
}

// Every kind of page at two paper sizes, printed by a true printer and by one
// that shrinks and stretches and was measured: every line that stands alone is
// within 0.1 mm of where the page says, on poppler's raster at 300 pixels an inch.
func TestEveryKindIsTrueToSize(t *testing.T) {
	for _, name := range []string{"A4", "Letter"} {
		size, _ := measure.PaperNamed(name)
		for _, real := range []Printer{{Across: 1, Down: 1}, {Across: 0.972, Down: 1.013}} {
			pr, err := page.On(size.Size).Measured(measure.Length(real.Across*180), 180, measure.Length(real.Down*240), 240)
			if err != nil {
				t.Fatal(err)
			}
			pages, pictures := allKinds(t, name, pr)
			file := writePDF(t, pages, pictures)
			first := firstOfKind(pages)
			images := rasters(t, file, first)
			for _, n := range first {
				fed := real
				if pages[n-1].Size.W > pages[n-1].Size.H { // the printer turns it
					fed.Across, fed.Down = real.Down, real.Across
				}
				printed := fed.Print(images[n], ppi/25.4)
				back := page.Printer{Paper: pr.Paper, Margin: pr.Margin, Across: 1 / pr.Across, Down: 1 / pr.Down}
				pg := back.Correct(pages[n-1]) // as it was laid out, before the correction
				worst, measured := 0.0, 0
				for _, l := range straights(pg) {
					if got, ok := lonely(printed, l); ok {
						measured++
						worst = max(worst, math.Abs(got-l.at))
					}
				}
				if measured < 3 || worst > 0.1 {
					t.Errorf("%s on %s at %v × %v: %d lines measured, the worst %.3f mm off; want 0.1 at most", pg.Kind, name, real.Across, real.Down, measured, worst)
				}
			}
		}
	}
}

// firstOfKind returns the numbers, from 1, of the first page of every kind,
// and of the first tile after its map.
func firstOfKind(pages []page.Page) (numbers []int) {
	seen := map[page.Kind]int{}
	for i, p := range pages {
		if seen[p.Kind]++; seen[p.Kind] == 1 || p.Kind == sheet.KindSheet && seen[p.Kind] == 2 {
			numbers = append(numbers, i+1)
		}
	}
	return numbers
}

// The check page tells the pretend printer's error: its bars, measured on what
// comes out, give the correction; a little skew does no harm.
func TestPretendPrinterIsMeasured(t *testing.T) {
	size, _ := measure.PaperNamed("A4")
	real := Printer{Across: 0.965, Down: 0.98, Skew: 0.3, Margin: 4}
	pg, across, down := sheet.CheckPage(page.On(size.Size), measure.Millimetre)
	const k = 10.0
	out := real.Print(render.Pixels(pg, k, nil), k)
	base := render.Pixels(pg, k, nil)
	if out.RGBAAt(5, 5).R != 255 || base.Rect != out.Rect {
		t.Error("the printer printed on the paper's edge")
	}
	var bars [2]float64
	i := 0
	for _, l := range straights(pg) {
		if long := l.to - l.from; math.Abs(long-float64(across)) < 0.01 && l.level || math.Abs(long-float64(down)) < 0.01 && !l.level {
			bars[i%2] = barLength(out, l, real, k)
			i++
		}
	}
	pr, err := page.On(size.Size).Measured(measure.Length(bars[0]), across, measure.Length(bars[1]), down)
	if err != nil || math.Abs(pr.Across-real.Across) > 0.001 || math.Abs(pr.Down-real.Down) > 0.001 {
		t.Errorf("measured %v × %v, %v; want %v × %v", pr.Across, pr.Down, err, real.Across, real.Down)
	}
}

// barLength measures a bar as a ruler does: from the outermost dark pixel at
// one end to that at the other, along the bar as it was printed.
func barLength(out *image.RGBA, l straight, real Printer, k float64) float64 {
	b := out.Bounds()
	cx, cy := float64(b.Dx())/2, float64(b.Dy())/2
	sin, cos := math.Sincos(real.Skew * math.Pi / 180)
	at := func(along, off float64) float64 { // darkness at a place of the page
		x, y := l.at+off, along
		if l.level {
			x, y = y, x
		}
		px, py := x*k-cx, y*k-cy
		qx, qy := px*cos*real.Across-py*sin*real.Down+cx, px*sin*real.Across+py*cos*real.Down+cy
		return 255 - float64(out.RGBAAt(int(qx), int(qy)).R)
	}
	// The ticks at both ends stand 0 to 3 mm beside the bar: walk along them.
	ends := [2]float64{}
	for e, from := range [2]float64{l.from, l.to} {
		sum, weight := 0.0, 0.0
		for d := -0.8; d <= 0.8; d += 0.02 {
			v := at(from+d, 2)
			sum, weight = sum+v*(from+d), weight+v
		}
		ends[e] = sum / weight
	}
	scale := real.Down
	if l.level {
		scale = real.Across
	}
	return (ends[1] - ends[0]) * scale
}

// qpdf, pdfinfo and pdffonts find nothing wrong with every kind in one file:
// an outline by student, labels by owner, every font embedded.
func TestPDFIsSound(t *testing.T) {
	size, _ := measure.PaperNamed("A4")
	pages, pictures := allKinds(t, "A4", page.On(size.Size))
	file := writePDF(t, pages, pictures)
	if out := tool(t, "qpdf", "--check", file); !strings.Contains(out, "No syntax or stream encoding errors") {
		t.Errorf("qpdf says %s", out)
	}
	fonts := strings.Split(strings.TrimSpace(tool(t, "pdffonts", file)), "\n")
	for _, line := range fonts[2:] {
		if f := strings.Fields(line); f[len(f)-5] != "yes" {
			t.Errorf("a font is not embedded: %s", line)
		}
	}
	if len(fonts) != 4 {
		t.Errorf("%d fonts; want two", len(fonts)-2)
	}
	text := tool(t, "pdftotext", "-f", "1", "-l", "1", file, "-")
	if !strings.Contains(text, "Ζωή Őrsi") {
		t.Errorf("the cover says %q", text)
	}
	if info := tool(t, "pdfinfo", file); !strings.Contains(info, "Harbour light") {
		t.Errorf("the file says of itself: %s", info)
	}
	catalog := tool(t, "qpdf", "--qdf", "--object-streams=disable", file, "-")
	for _, want := range []string{"/Lang (en)", "/DisplayDocTitle true", "/PrintScaling /None"} {
		if !strings.Contains(catalog, want) {
			t.Errorf("the catalog lacks %s", want)
		}
	}
	// As they are read aloud: the head, what is to be done, and only then what stands at the foot.
	for i, p := range pages {
		order := strings.Join(strings.Fields(tool(t, "pdftotext", "-raw", "-f", fmt.Sprint(i+1), "-l", fmt.Sprint(i+1), file, "-")), " ")
		last := -1
		parts := []string{"Harbour light"}
		if p.Kind == sheet.KindMarks {
			parts = append(parts, "Mark up the drawing sheet", "1 Take the", "zero line", "Join the", "Print at actual size", "these notes do not replace them.")
		}
		for _, part := range parts {
			at := strings.LastIndex(order, part)
			if at <= last || part == parts[0] && !strings.HasPrefix(order, part) {
				t.Errorf("%s is read in this order, “%s” at %d: %s", p.Title, part, at, order)
			}
			last = at
		}
	}
	var labels struct {
		PageLabels []struct {
			Index int
			Label map[string]any
		} `json:"pagelabels"`
		Outlines []struct {
			Title string
			Kids  []struct{ Title string }
		}
	}
	decodeJSON(t, tool(t, "qpdf", "--json=2", "--json-key=pagelabels", "--json-key=outlines", file), &labels)
	if len(labels.PageLabels) != 2 || labels.PageLabels[0].Label["/P"] != "u:Ζωή Őrsi " || labels.PageLabels[1].Index == 0 {
		t.Errorf("page labels %+v; want the student's, then the class's", labels.PageLabels)
	}
	if len(labels.Outlines) < 3 || labels.Outlines[0].Title != "Ζωή Őrsi" || labels.Outlines[0].Kids[0].Title != "Cover" {
		t.Errorf("outline %+v", labels.Outlines)
	}
}

// Tiles put together again: every line of the sheet is found on the tiles'
// rasters within 0.2 mm of where it stands on the whole.
func TestTilesMakeTheWhole(t *testing.T) {
	plan, err := grid.Make(grid.Request{Reference: "6in", Picture: [2]int{1200, 1500}, Paper: "18x24in", ReferenceSquare: "1 1/2in", Scale: "2.5"})
	if err != nil {
		t.Fatal(err)
	}
	size, _ := measure.PaperNamed("A4")
	pr := page.On(size.Size)
	pages, err := sheet.Pages(sheet.KindSheet, sheet.Wish{Plan: plan, Printer: pr})
	if err != nil {
		t.Fatal(err)
	}
	_, tiles, err := sheet.Tiles(plan.SheetSize(), pr)
	if err != nil || len(pages) != len(tiles)+1 {
		t.Fatalf("%d pages for %d tiles, %v", len(pages), len(tiles), err)
	}
	var numbers []int
	for i := range tiles {
		numbers = append(numbers, i+2)
	}
	images := rasters(t, writePDF(t, pages, nil), numbers)
	found := map[float64]bool{}
	for i, tile := range tiles {
		for _, x := range plan.Marks.SheetX {
			if x < tile.Region.Min.X || x > tile.Region.Max.X {
				continue
			}
			on := straight{false, x - tile.Region.Min.X + tile.At.X, tile.At.Y + 4, tile.At.Y + tile.Region.Height() - 4}
			got, ok := lonely(images[i+2], on)
			if !ok {
				continue
			}
			if whole := got - tile.At.X + tile.Region.Min.X; math.Abs(whole-x) > 0.2 {
				t.Errorf("tile %d: the line at %.2f mm is put at %.2f mm", i+1, x, whole)
			}
			found[x] = true
		}
	}
	if len(found) < len(plan.Marks.SheetX)-1 {
		t.Errorf("only %d of %d lines are on the tiles", len(found), len(plan.Marks.SheetX))
	}
}

// A part of a picture at an angle, mirrored or not, comes out of the PDF as
// picture.Framed resamples it.
func TestPartsInPDF(t *testing.T) {
	img := render.Pixels(quaySheds().Page, 6, nil)
	var file bytes.Buffer
	if err := png.Encode(&file, img); err != nil {
		t.Fatal(err)
	}
	for _, mirror := range []bool{false, true} {
		f := grid.Frame{Picture: [2]int{img.Rect.Dx(), img.Rect.Dy()}, Centre: plane.Pt(600, 440), Size: [2]float64{700, 500}, Angle: 17, Mirror: mirror}
		pg := page.Page{Size: measure.Size{W: 160, H: 120}, Items: []page.Item{page.Picture{Box: plane.Rect{Min: plane.Pt(10, 10), Max: plane.Pt(150, 110)}, Name: "p", Part: &f}}}
		got := rasters(t, writePDF(t, []page.Page{pg}, render.Pictures{"p": file.Bytes()}), []int{1})[1]
		var corners plane.Quad
		for i, c := range f.Corners() {
			corners[i] = plane.Point(c)
		}
		const k, offset = ppi / 25.4, 118 // 10 mm
		w, h := 1653, 1181                // 140 × 100 mm
		want, err := picture.Framed(img, corners, mirror, w, h)
		if err != nil {
			t.Fatal(err)
		}
		drawn := render.Pixels(pg, k, map[string]image.Image{"p": img})
		var apart, ours float64
		for y := 20; y < h-20; y += 3 {
			for x := 20; x < w-20; x += 3 {
				r, _, _, _ := got.At(x+offset, y+offset).RGBA()
				apart += math.Abs(float64(r>>8) - float64(want.RGBAAt(x, y).G))
				ours += math.Abs(float64(drawn.RGBAAt(x+offset, y+offset).G) - float64(want.RGBAAt(x, y).G))
			}
		}
		n := float64((w - 40) * (h - 40) / 9)
		if apart/n > 9 || ours/n > 9 {
			t.Errorf("mirror %v: PDF and PNG differ from the resampled frame by %.1f and %.1f of 255", mirror, apart/n, ours/n)
		}
		edge, _, _, _ := got.At(59, 700).RGBA()
		if edge>>8 != 255 {
			t.Errorf("the picture is not cut off at its box")
		}
	}
}

func decodeJSON(t *testing.T, text string, into any) {
	t.Helper()
	if err := json.Unmarshal([]byte(text), into); err != nil {
		t.Fatalf("%v in %s", err, text)
	}
}
