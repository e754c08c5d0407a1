package render

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
)

const ppi = 300

// tool runs an independent program of Debian's poppler-utils.
func tool(t *testing.T, name string, args ...string) string {
	t.Helper()
	out, err := exec.Command(name, args...).CombinedOutput()
	if err != nil {
		t.Fatalf("%s %v: %v\n%s", name, args, err, out)
	}
	return string(out)
}

func whitePicture(t testing.TB) []byte {
	t.Helper()
	img := image.NewGray(image.Rect(0, 0, 40, 50))
	for i := range img.Pix {
		img.Pix[i] = 255
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func twoPages(t testing.TB, ask grid.Request, paper string) (grid.Plan, []page.Page) {
	t.Helper()
	p, err := grid.Make(ask)
	if err != nil {
		t.Fatal(err)
	}
	size, _ := measure.PaperNamed(paper)
	var pages []page.Page
	for _, k := range []page.Kind{sheet.KindReference, sheet.KindMarks} {
		made, err := sheet.Pages(k, sheet.Wish{Plan: p, Printer: page.On(size.Size)})
		if err != nil {
			t.Fatal(err)
		}
		pages = append(pages, made...)
	}
	return p, pages
}

// raster writes pages as PDF, asks pdfinfo and pdftoppm about them, and
// returns the first page as poppler draws it.
func raster(t *testing.T, pages []page.Page) (info string, first image.Image) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "p.pdf")
	f, err := os.Create(file)
	if err != nil {
		t.Fatal(err)
	}
	if err := PDF(f, "Two pages", pages, Pictures{sheet.FramePicture: whitePicture(t)}); err != nil {
		t.Fatal(err)
	}
	f.Close()
	info = tool(t, "pdfinfo", file)
	fonts := strings.Split(strings.TrimSpace(tool(t, "pdffonts", file)), "\n")
	for _, line := range fonts[2:] {
		if fields := strings.Fields(line); fields[len(fields)-5] != "yes" { // the column "emb"
			t.Errorf("a font is not embedded: %s", line)
		}
	}
	tool(t, "pdftoppm", "-r", fmt.Sprint(ppi), "-f", "1", "-l", "1", "-singlefile", "-gray", "-png", file, strings.TrimSuffix(file, ".pdf"))
	b, err := os.ReadFile(strings.TrimSuffix(file, ".pdf") + ".png")
	if err != nil {
		t.Fatal(err)
	}
	if first, err = png.Decode(bytes.NewReader(b)); err != nil {
		t.Fatal(err)
	}
	return info, first
}

// darkAt returns the centre of darkness within half a millimetre of at, in mm,
// along a scan line across at the other coordinate.
func darkAt(img image.Image, at, other float64, across bool) float64 {
	k := ppi / 25.4
	var sum, weight float64
	for i := int((at - 0.5) * k); i <= int((at+0.5)*k); i++ {
		x, y := i, int(other*k)
		if !across {
			x, y = y, x
		}
		dark := 255 - float64(color.GrayModel.Convert(img.At(x, y)).(color.Gray).Y)
		sum += dark * (float64(i) + 0.5)
		weight += dark
	}
	return sum / weight / k
}

// Every grid line lies within 0.1 mm of its place, as measured on poppler's
// raster at 300 pixels an inch; the page has the paper's size by pdfinfo.
func TestTrueToSize(t *testing.T) {
	for _, c := range []struct {
		ask         grid.Request
		paper, size string
	}{
		{grid.Request{Name: "Harbour light", Reference: "7x9in", Paper: "12x18in", ReferenceSquare: "1in"}, "Letter", "612 x 792 pts (letter)"},
		{grid.Request{Name: "Ζωή, Søren, Жанна", Units: "cm", Reference: "17x24", Paper: "A3", Method: "parts", Parts: "5x7"}, "A4", "595.28 x 841.89 pts (A4)"},
	} {
		p, pages := twoPages(t, c.ask, c.paper)
		info, img := raster(t, pages)
		if !strings.Contains(info, c.size) || !strings.Contains(info, "Pages:           2") {
			t.Errorf("%s: want two pages of %s, pdfinfo says\n%s", c.paper, c.size, info)
		}
		var work plane.Rect
		for _, item := range pages[0].Items {
			if pic, ok := item.(page.Picture); ok {
				work = pic.Box
			}
		}
		between := work.Min.Y + p.Marks.ReferenceY[1]*0.8 // a scan line that crosses no label
		for _, x := range p.Marks.ReferenceX {
			if got, want := darkAt(img, work.Min.X+x, between, true), work.Min.X+x; !(math.Abs(got-want) <= 0.1) {
				t.Errorf("%s: the line at %.2f mm is at %.3f mm", c.paper, want, got)
			}
		}
		between = work.Min.X + p.Marks.ReferenceX[1]*0.8
		for _, y := range p.Marks.ReferenceY {
			if got, want := darkAt(img, work.Min.Y+y, between, false), work.Min.Y+y; !(math.Abs(got-want) <= 0.1) {
				t.Errorf("%s: the line at %.2f mm down is at %.3f mm", c.paper, want, got)
			}
		}
		// The check bar: its base line is 4.5 mm below the foot's top; ticks stand on it.
		bar := float64(pages[0].Size.H) - 5 - 9 + 4.5
		zero, hundred := darkAt(img, 5, bar-0.8, true), darkAt(img, 105, bar-0.8, true)
		if got := hundred - zero; math.Abs(got-page.BarMM) > 0.1 {
			t.Errorf("%s: the check bar is %.3f mm long; want 100", c.paper, got)
		}
		four := darkAt(img, 5+101.6, bar+0.8, true)
		if got := (four - zero) / 25.4; math.Abs(got-page.BarInches) > 0.005 {
			t.Errorf("%s: the check bar is %.4f in long; want 4", c.paper, got)
		}
	}
}

func TestPictureIsEmbeddedOnce(t *testing.T) {
	_, pages := twoPages(t, grid.Request{Reference: "7x9in", Scale: "1", ReferenceSquare: "1in"}, "Letter")
	noise := image.NewGray(image.Rect(0, 0, 600, 600))
	for i := range noise.Pix {
		noise.Pix[i] = byte(i * i >> 3)
	}
	var jpg, one, ten bytes.Buffer
	if err := jpeg.Encode(&jpg, noise, &jpeg.Options{Quality: 95}); err != nil {
		t.Fatal(err)
	}
	pics := Pictures{sheet.FramePicture: jpg.Bytes()}
	many := pages
	for range 9 {
		many = append(many, pages[0])
	}
	if err := PDF(&one, "One", pages, pics); err != nil {
		t.Fatal(err)
	}
	if err := PDF(&ten, "Ten", many, pics); err != nil {
		t.Fatal(err)
	}
	if more := ten.Len() - one.Len(); more > jpg.Len()/2 {
		t.Errorf("nine more pages add %d bytes; the picture alone has %d", more, jpg.Len())
	}
}

func TestMissingPictureIsAnError(t *testing.T) {
	_, pages := twoPages(t, grid.Request{Reference: "7x9in", Scale: "1", ReferenceSquare: "1in"}, "Letter")
	if err := PDF(io.Discard, "Missing", pages, nil); err == nil {
		t.Error("a page without its picture was written")
	}
}

// SVG is well-formed XML whatever the name says, and holds what the page holds.
func TestSVG(t *testing.T) {
	_, pages := twoPages(t, grid.Request{Name: `<script>"&'`, Reference: "7x9in", Paper: "12x18in", ReferenceSquare: "1in"}, "Letter")
	var out bytes.Buffer
	if err := SVG(&out, pages[0], func(name string) string { return "/p?a=1&b=" + name }); err != nil {
		t.Fatal(err)
	}
	counts := map[string]int{}
	d := xml.NewDecoder(bytes.NewReader(out.Bytes()))
	for {
		token, err := d.Token()
		if err == io.EOF {
			break
		}
		if err != nil {
			t.Fatal(err)
		}
		if e, ok := token.(xml.StartElement); ok {
			counts[e.Name.Local]++
		}
	}
	paths := 0
	for _, item := range pages[0].Items {
		if _, ok := item.(page.Path); ok {
			paths++
		}
	}
	if counts["script"] > 0 || counts["image"] != 1 || counts["path"] != paths {
		t.Errorf("elements %v; want one image and %d paths", counts, paths)
	}
}

// A filled square and a stroke cover the area that they should.
func TestPixelsCoverTheirArea(t *testing.T) {
	black := page.Color{}
	pg := page.Page{Size: measure.Size{W: 40, H: 40}, Items: []page.Item{
		page.Path{Points: []plane.Point{plane.Pt(5, 5), plane.Pt(15, 5), plane.Pt(15, 15), plane.Pt(5, 15)}, Closed: true, Fill: &black},
		page.Path{Points: []plane.Point{plane.Pt(5, 25), plane.Pt(35, 35)}, Width: 2, Stroke: black},
	}}
	const k = 10
	img := Pixels(pg, k, nil)
	area := func(r image.Rectangle) (mm2 float64) {
		for y := r.Min.Y; y < r.Max.Y; y++ {
			for x := r.Min.X; x < r.Max.X; x++ {
				mm2 += (255 - float64(img.RGBAAt(x, y).R)) / 255 / k / k
			}
		}
		return mm2
	}
	if got := area(image.Rect(0, 0, 400, 200)); math.Abs(got-100) > 0.1 {
		t.Errorf("the square covers %v mm²; want 100", got)
	}
	if got, want := area(image.Rect(0, 200, 400, 400)), 2*math.Hypot(30, 10)+math.Pi; math.Abs(got-want) > 0.3 {
		t.Errorf("the stroke covers %v mm²; want %v, round ends included", got, want)
	}
}

func BenchmarkPDF(b *testing.B) {
	_, pages := twoPages(b, grid.Request{Reference: "7x9in", Paper: "12x18in", ReferenceSquare: "1in"}, "Letter")
	pics := Pictures{sheet.FramePicture: whitePicture(b)}
	for b.Loop() {
		if err := PDF(io.Discard, "Pages", pages, pics); err != nil {
			b.Fatal(err)
		}
	}
}
