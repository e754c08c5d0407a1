package picture

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math"
	"os"
	"slices"
	"testing"
	"zestysketch/internal/core/plane"
)

// corners: red top left, green top right, blue bottom right, white bottom left.
func fourColours(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{255, 255, 255, 255}
			switch {
			case x < w/2 && y < h/2:
				c = color.RGBA{220, 0, 0, 255}
			case y < h/2:
				c = color.RGBA{0, 200, 0, 255}
			case x >= w/2:
				c = color.RGBA{0, 0, 220, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	return img
}

func asJPEG(t testing.TB, img image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, &jpeg.Options{Quality: 95}); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// withOrientation inserts an EXIF block that says only how the camera was held
// (CIPA DC-008: APP1, big-endian TIFF header, one entry, tag 274, SHORT).
func withOrientation(jpg []byte, turn int) []byte {
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x00\x00\x00\x00\x00\x00\x00")
	tiff[19] = byte(turn)
	body := append([]byte("Exif\x00\x00"), tiff...)
	head := []byte{0xff, 0xe1, 0, 0}
	binary.BigEndian.PutUint16(head[2:], uint16(len(body)+2))
	out := append([]byte{}, jpg[:2]...)
	out = append(append(out, head...), body...)
	return append(out, jpg[2:]...)
}

func TestUpright(t *testing.T) {
	upright := fourColours(64, 32)
	for turn := 1; turn <= 8; turn++ {
		// Store the scene as a camera held that way would: the inverse turn.
		inverse := turn
		if turn == 6 || turn == 8 {
			inverse = 14 - turn
		}
		stored := orient(upright, inverse)
		got, err := Decode(withOrientation(asJPEG(t, stored), turn))
		if err != nil {
			t.Fatalf("orientation %d: %v", turn, err)
		}
		if got.Rect != upright.Rect {
			t.Fatalf("orientation %d: size %v; want %v", turn, got.Rect, upright.Rect)
		}
		for _, at := range []image.Point{{8, 8}, {56, 8}, {56, 24}, {8, 24}} {
			if g, w := got.RGBAAt(at.X, at.Y), upright.RGBAAt(at.X, at.Y); far(g, w, 24) {
				t.Errorf("orientation %d at %v: %v; want %v", turn, at, g, w)
			}
		}
	}
}

// orient is written apart from upright: it asks where each result pixel comes
// from, by turning the picture a quarter at a time.
func orient(src *image.RGBA, turn int) *image.RGBA {
	quarters := map[int]int{1: 0, 2: 0, 3: 2, 4: 2, 5: 1, 6: 1, 7: 3, 8: 3}[turn]
	out := src
	for range quarters {
		w, h := out.Rect.Dx(), out.Rect.Dy()
		next := image.NewRGBA(image.Rect(0, 0, h, w))
		for y := range w {
			for x := range h {
				next.SetRGBA(x, y, out.RGBAAt(y, h-1-x))
			}
		}
		out = next
	}
	if turn == 2 || turn == 4 || turn == 5 || turn == 7 {
		w, h := out.Rect.Dx(), out.Rect.Dy()
		flipped := image.NewRGBA(out.Rect)
		for y := range h {
			for x := range w {
				flipped.SetRGBA(x, y, out.RGBAAt(w-1-x, y))
			}
		}
		out = flipped
	}
	return out
}

func far(a, b color.RGBA, most int) bool {
	d := func(x, y uint8) int { return int(math.Abs(float64(x) - float64(y))) }
	return d(a.R, b.R) > most || d(a.G, b.G) > most || d(a.B, b.B) > most
}

// pngOfSize is a PNG whose header claims a size; only the header is true.
func pngOfSize(t *testing.T, w, h int) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 20, 20))); err != nil {
		t.Fatal(err)
	}
	out := b.Bytes()
	binary.BigEndian.PutUint32(out[16:], uint32(w))
	binary.BigEndian.PutUint32(out[20:], uint32(h))
	binary.BigEndian.PutUint32(out[29:], crc32.ChecksumIEEE(out[12:29]))
	return out
}

func TestDecodeRefuses(t *testing.T) {
	good := asJPEG(t, fourColours(200, 200))
	for _, c := range []struct {
		name string
		b    []byte
		want error
	}{
		{"empty", nil, ErrEmpty},
		{"text", []byte("dear diary, today we drew"), ErrKind},
		{"truncated", good[:len(good)/2], ErrDamaged},
		{"only a header", good[:30], ErrDamaged},
		{"200 megapixels", pngOfSize(t, 20000, 10000), ErrTooLarge},
		{"wider than any number", pngOfSize(t, 1<<24, 1<<24), ErrTooLarge},
		{"one pixel", pngOfSize(t, 1, 1), ErrTooNarrow},
	} {
		if img, err := Decode(c.b); !errors.Is(err, c.want) {
			t.Errorf("%s: %v, %v; want %v", c.name, img != nil, err, c.want)
		}
	}
}

func FuzzDecode(f *testing.F) {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, fourColours(32, 32), nil); err != nil {
		f.Fatal(err)
	}
	f.Add(b.Bytes())
	f.Add(withOrientation(b.Bytes(), 6))
	f.Fuzz(func(t *testing.T, b []byte) {
		if img, err := Decode(b); (img == nil) == (err == nil) {
			t.Fatalf("image %v with error %v", img != nil, err)
		}
	})
}

func TestClearBecomesWhite(t *testing.T) {
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewNRGBA(image.Rect(0, 0, 20, 20))); err != nil {
		t.Fatal(err)
	}
	img, err := Decode(b.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	if got := img.RGBAAt(3, 3); got != (color.RGBA{255, 255, 255, 255}) {
		t.Errorf("a clear pixel became %v; want white", got)
	}
}

func TestShrinkKeepsTheMean(t *testing.T) {
	src := image.NewRGBA(image.Rect(0, 0, 1001, 600))
	for i := range src.Pix {
		src.Pix[i] = uint8(i * 7 % 251)
		if i%4 == 3 {
			src.Pix[i] = 255
		}
	}
	out := Shrink(src, 150)
	if out.Rect.Dx() != 150 || out.Rect.Dy() != 90 {
		t.Fatalf("size %v; want 150 × 90", out.Rect)
	}
	if a, b := mean(src), mean(out); math.Abs(a-b) > 1 {
		t.Errorf("mean %0.2f became %0.2f", a, b)
	}
	if Shrink(src, 2000) != src {
		t.Error("a small picture was copied; want it untouched")
	}
}

func mean(img *image.RGBA) float64 {
	sum := 0.0
	for _, v := range img.Pix {
		sum += float64(v)
	}
	return sum / float64(len(img.Pix))
}

var tilted = plane.Quad{plane.Pt(312.5, 198.25), plane.Pt(2711, 260.75), plane.Pt(2590.5, 1890), plane.Pt(405.25, 1795.5)}

// Against OpenCV 4.6.0, getPerspectiveTransform and perspectiveTransform; the
// corners are numbers that its single precision holds exactly.
func TestHomographyAgainstOpenCV(t *testing.T) {
	h, err := NewHomography(tilted, plane.Box(304, 362))
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct{ at, want plane.Point }{
		{plane.Pt(1000, 700), plane.Pt(87.43956964770159, 102.17850364251093)},
		{plane.Pt(2000, 1500), plane.Pt(221.37203570393427, 274.666779523044)},
		{plane.Pt(450, 1700), plane.Pt(7.1337956186812965, 337.8870983971732)},
	} {
		if got := h.Apply(c.at); got.Sub(c.want).Len() > 1e-6 {
			t.Errorf("%v carried to %v; want %v", c.at, got, c.want)
		}
	}
	back, err := NewHomography(plane.Box(304, 362), tilted)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range []plane.Point{plane.Pt(0, 0), plane.Pt(100, 20), plane.Pt(304, 362)} {
		if got := h.Apply(back.Apply(p)); got.Sub(p).Len() > 1e-9 {
			t.Errorf("%v there and back is %v", p, got)
		}
	}
}

func TestQuadCheck(t *testing.T) {
	nan := math.NaN()
	for name, q := range map[string]plane.Quad{
		"crossing":      {plane.Pt(0, 0), plane.Pt(100, 100), plane.Pt(100, 0), plane.Pt(0, 100)},
		"coinciding":    {plane.Pt(0, 0), plane.Pt(0, 0), plane.Pt(100, 100), plane.Pt(0, 100)},
		"in a line":     {plane.Pt(0, 0), plane.Pt(50, 0), plane.Pt(100, 0), plane.Pt(0, 100)},
		"anticlockwise": {plane.Pt(0, 0), plane.Pt(0, 100), plane.Pt(100, 100), plane.Pt(100, 0)},
		"dented":        {plane.Pt(0, 0), plane.Pt(100, 0), plane.Pt(20, 20), plane.Pt(0, 100)},
		"no number":     {plane.Pt(nan, 0), plane.Pt(100, 0), plane.Pt(100, 100), plane.Pt(0, 100)},
		"endless":       {plane.Pt(0, 0), plane.Pt(math.Inf(1), 0), plane.Pt(100, 100), plane.Pt(0, 100)},
	} {
		if err := q.Check(); !errors.Is(err, plane.ErrCorners) {
			t.Errorf("%s: %v; want ErrCorners", name, err)
		}
	}
	if err := tilted.Check(); err != nil {
		t.Errorf("a tilted sheet: %v", err)
	}
	turned := plane.Quad{tilted[2], tilted[3], tilted[0], tilted[1]}
	if err := turned.Check(); err != nil {
		t.Errorf("a sheet photographed upside down: %v", err)
	}
}

// A photographed ramp rectifies to the ramp: brightness is linear across the
// sheet, so every result pixel is known.
func TestRectify(t *testing.T) {
	const w, h = 300, 200
	toSheet, err := NewHomography(plane.Quad{plane.Pt(80, 60), plane.Pt(720, 90), plane.Pt(690, 540), plane.Pt(120, 500)}, plane.Box(w, h))
	if err != nil {
		t.Fatal(err)
	}
	photo := image.NewRGBA(image.Rect(0, 0, 800, 600))
	for y := range 600 {
		for x := range 800 {
			p := toSheet.Apply(plane.Pt(float64(x)+0.5, float64(y)+0.5))
			photo.SetRGBA(x, y, color.RGBA{ramp(p.X, w), ramp(p.Y, h), 0, 255})
		}
	}
	out, err := Rectify(photo, plane.Quad{plane.Pt(80, 60), plane.Pt(720, 90), plane.Pt(690, 540), plane.Pt(120, 500)}, w, h)
	if err != nil {
		t.Fatal(err)
	}
	for y := 5; y < h-5; y += 7 {
		for x := 5; x < w-5; x += 7 {
			want := color.RGBA{ramp(float64(x)+0.5, w), ramp(float64(y)+0.5, h), 0, 255}
			if got := out.RGBAAt(x, y); far(got, want, 1) {
				t.Fatalf("pixel %d, %d is %v; want %v", x, y, got, want)
			}
		}
	}
}

func ramp(v, full float64) uint8 { return uint8(max(0, min(255, math.Round(v/full*255)))) }

func photo12MP(b *testing.B) []byte {
	img := image.NewRGBA(image.Rect(0, 0, 4000, 3000))
	for y := range 3000 {
		for x := range 4000 {
			img.SetRGBA(x, y, color.RGBA{uint8(x / 16), uint8(y / 12), uint8((x*y + x) >> 9), 255})
		}
	}
	return withOrientation(asJPEG(b, img), 6)
}

func BenchmarkDecode12MP(b *testing.B) {
	jpg := photo12MP(b)
	for b.Loop() {
		if _, err := Decode(jpg); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkShrink12MP(b *testing.B) {
	img, err := Decode(photo12MP(b))
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		Shrink(img, 1600)
	}
}

func BenchmarkRectify12MP(b *testing.B) {
	img, err := Decode(photo12MP(b))
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := Rectify(img, plane.Quad{plane.Pt(200, 150), plane.Pt(2800, 220), plane.Pt(2700, 3800), plane.Pt(260, 3700)}, 1000, 1400); err != nil {
			b.Fatal(err)
		}
	}
}

// A progressive JPEG that goes over its pixels time and again is refused before any is
// decoded; one as cameras and optimisers save it is not.
func TestScansAreCounted(t *testing.T) {
	b, err := os.ReadFile("testdata/progressive.jpg")
	if err != nil {
		t.Fatal(err)
	}
	usual := scans(b, "jpeg")
	if usual < 5 || usual > usualScans {
		t.Fatalf("a usual one has %d scans", usual)
	}
	if _, err := Decode(b); err != nil {
		t.Fatal(err)
	}
	// A last scan that says nothing, over and over (ITU-T T.81, B.2.3 and G.1.2.2): the first
	// component's coefficients 1 to 63, at a bit that is there already.
	end := bytes.LastIndex(b, endOfJPEG)
	empty := []byte{0xff, 0xda, 0, 8, 1, 1, 0, 1, 63, 0x10, 0}
	size, _, err := image.DecodeConfig(bytes.NewReader(b))
	if err != nil {
		t.Fatal(err)
	}
	most := mostScanned / (size.Width * size.Height)
	bomb := slices.Concat(b[:end], bytes.Repeat(empty, most+1), endOfJPEG)
	if got := scans(bomb, "jpeg"); got != usual+most+1 {
		t.Errorf("%d scans; want %d", got, usual+most+1)
	}
	if _, err := Decode(bomb); !errors.Is(err, ErrTooHeavy) {
		t.Errorf("%d scans of %d × %d: %v; want ErrTooHeavy", usual+most+1, size.Width, size.Height, err)
	}
	if got := scans(append(bytes.Clone(b), bomb...), "jpeg"); got != usual {
		t.Errorf("with another picture behind its end it has %d scans; want %d", got, usual)
	}
}
