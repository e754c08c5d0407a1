package demo

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"sort"
	"strings"
	"testing"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
)

// copier is what a copier makes of a page at 150 dots an inch: how much of a dot's grey comes
// from each neighbour beside it, how strongly its greys vary, and from which grey on (0 to 255)
// it leaves the paper white.
type copier struct{ spill, noise, white float64 }

// A school's copier blurs by 0.6 of a dot (a bell curve's standard deviation) and takes what is darker than half for
// ink; a tired one blurs evenly over three dots, and is two and a half times as noisy (ours).
var (
	halved = copier{1.0 / 6, 10, 128}
	tired  = copier{1.0 / 3, 25, 128}
)

// copy makes a page's pixels a copy of themselves: black on white.
func (c copier) copy(t *testing.T, file string) *image.Gray {
	t.Helper()
	f, err := os.Open(file)
	if err != nil {
		t.Fatal(err)
	}
	img, err := png.Decode(f)
	f.Close()
	if err != nil {
		t.Fatal(err)
	}
	grey := image.NewGray(img.Bounds())
	draw.Draw(grey, grey.Rect, img, grey.Rect.Min, draw.Src)
	rng := rand.New(rand.NewPCG(150, 9))
	share := []float64{c.spill, 1 - 2*c.spill, c.spill}
	out := image.NewGray(grey.Rect)
	for y := out.Rect.Min.Y + 1; y < out.Rect.Max.Y-1; y++ {
		for x := out.Rect.Min.X + 1; x < out.Rect.Max.X-1; x++ {
			sum := c.noise * rng.NormFloat64()
			for dy := range 3 {
				for dx := range 3 {
					sum += share[dx] * share[dy] * float64(grey.GrayAt(x+dx-1, y+dy-1).Y)
				}
			}
			if sum > c.white {
				out.SetGray(x, y, color.Gray{Y: 255})
			}
		}
	}
	w, err := os.Create(file)
	if err != nil {
		t.Fatal(err)
	}
	defer w.Close()
	if err := png.Encode(w, out); err != nil {
		t.Fatal(err)
	}
	return out
}

// rastered returns the file of a page of a PDF in dots, 150 an inch.
func rastered(t *testing.T, pdf string, number int) string {
	t.Helper()
	base := filepath.Join(t.TempDir(), "page")
	tool(t, "pdftoppm", "-r", "150", "-gray", "-f", fmt.Sprint(number), "-l", fmt.Sprint(number), "-singlefile", "-png", pdf, base)
	return base + ".png"
}

// An independent reader, zbarimg of zbar-tools, reads the cover's link and
// every corner tag from the printed page, and the tags lie where TagTip says.
func TestCodesAreRead(t *testing.T) {
	size, _ := measure.PaperNamed("A4")
	pages, pictures := allKinds(t, "A4", page.On(size.Size))
	file := writePDF(t, pages, pictures)
	read := func(kind page.Kind, copied bool) []string {
		for i, p := range pages {
			if p.Kind != kind {
				continue
			}
			printed := rastered(t, file, i+1)
			if copied {
				tired.copy(t, printed)
			}
			lines := strings.Fields(output(t, "zbarimg", "--quiet", "--raw", "-Sdisable", "-Sqrcode.enable", printed))
			sort.Strings(lines)
			return lines
		}
		return nil
	}
	for _, copied := range []bool{false, true} {
		if got := read(sheet.KindCover, copied); len(got) != 1 || got[0] != "http://192.168.1.20:8080/s/abcdefghijklmnopqrstuvwxyz" {
			t.Errorf("copied %t: the cover's code says %q", copied, got)
		}
		got := read(sheet.KindTags, copied)
		if len(got) != 4 {
			t.Fatalf("copied %t: %d tags were read: %q", copied, len(got), got)
		}
		for corner, words := range got {
			if tag, ok := photo.ParseTag(words); !ok || tag != (photo.Tag{Project: 12, Student: 345, Corner: corner}) {
				t.Errorf("copied %t: tag %d says %q", copied, corner, words)
			}
		}
	}
}

// letters finds the words that a reader of letters can be held to.
var letters = regexp.MustCompile(`[A-Za-z]{3,}`)

// An independent reader, tesseract-ocr, reads pages of words from a copy of their print, the
// smallest letters that any page has among them, as well as it reads letters half as large
// again: of ten words nine, misreading some at any size.
func TestWordsOutliveACopy(t *testing.T) {
	size, _ := measure.PaperNamed("A4")
	pages, pictures := allKinds(t, "A4", page.On(size.Size))
	pages = slices.DeleteFunc(pages, func(p page.Page) bool {
		return !slices.Contains([]page.Kind{sheet.KindMarks, sheet.KindStudent, sheet.KindTape, sheet.KindTeacher, sheet.KindCards, sheet.KindKey}, p.Kind)
	})
	small := page.Page{Title: "Small", Size: size.Size}
	for i, line := range []string{"Print at actual size, then lay a ruler on this bar: it must read true.", "Follow the rules of your own school, and what stands on the label.",
		"Darken the main lines first; held to a window the sheet shows them.", "Mark the top edge from the left corner, then the bottom edge the same way."} {
		small.Add(page.Text{At: plane.Pt(25, 40+5*float64(i)), Size: 2.4, Words: line, Color: page.Ink},
			page.Text{At: plane.Pt(25, 90+5*float64(i)), Size: 2.4, Words: line, Bold: true, Color: page.Ink})
	}
	pages = append(pages, small)
	file := writePDF(t, pages, pictures)
	t.Setenv("OMP_THREAD_LIMIT", "1")
	for i, p := range pages {
		number := fmt.Sprint(i + 1)
		want := letters.FindAllString(tool(t, "pdftotext", "-f", number, "-l", number, file, "-"), -1)
		copied := rastered(t, file, i+1)
		halved.copy(t, copied)
		read := letters.FindAllString(output(t, "tesseract", copied, "-", "--dpi", "150", "--psm", "11"), -1)
		lost := slices.DeleteFunc(slices.Clone(want), func(w string) bool { return slices.Contains(read, w) })
		if len(want) < 20 || 10*len(lost) > len(want) {
			t.Errorf("%s: of %d words %d are not read: %q", p.Title, len(want), len(lost), lost)
		}
	}
}

// Every mark in ink is on a copy, where it was: of a straight line's dots nine tenths are dark.
func TestMarksOutliveACopy(t *testing.T) {
	size, _ := measure.PaperNamed("A4")
	pages, pictures := allKinds(t, "A4", page.On(size.Size))
	file := writePDF(t, pages, pictures)
	tried := 0
	for i, p := range pages {
		if !slices.Contains([]page.Kind{sheet.KindMarks, sheet.KindStrips, sheet.KindWindows, sheet.KindFold, sheet.KindTurn}, p.Kind) {
			continue
		}
		dots := halved.copy(t, rastered(t, file, i+1))
		for _, item := range p.Items {
			line, ok := item.(page.Path)
			if !ok || len(line.Points) != 2 || line.Stroke != page.Ink && p.Kind != sheet.KindFold && p.Kind != sheet.KindTurn || line.Dash > 0 || line.Points[1].Sub(line.Points[0]).Len() < 1.5 {
				continue
			}
			tried++
			if share := darkAlong(dots, line.Points[0], line.Points[1]); share < 0.9 {
				t.Errorf("%s: a line of %.2f mm from %v to %v is %.0f %% dark", p.Kind, line.Width, line.Points[0], line.Points[1], 100*share)
			}
		}
	}
	if tried < 100 {
		t.Errorf("%d marks were looked at", tried)
	}
}

// darkAlong returns the share of a line's length that is dark within a dot of where it is.
func darkAlong(dots *image.Gray, a, b plane.Point) float64 {
	const perMM = 150 / 25.4
	dark := 0
	for i := range 41 {
		q := a.To(b, 0.02+0.96*float64(i)/40).Mul(perMM)
		x, y := int(math.Floor(q.X)), int(math.Floor(q.Y))
		for _, near := range [][2]int{{0, 0}, {1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
			if dots.GrayAt(x+near[0], y+near[1]).Y == 0 {
				dark++
				break
			}
		}
	}
	return float64(dark) / 41
}
