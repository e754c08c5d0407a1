package picture

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"zestysketch/internal/core/plane"
)

// fromModule reads a file that ships with a Go module, on which nobody tuned anything.
func fromModule(t testing.TB, module, name string) []byte {
	t.Helper()
	dir, err := exec.Command("go", "list", "-m", "-f", "{{.Dir}}", module).Output()
	if err != nil {
		t.Fatalf("where is %s: %v", module, err)
	}
	b, err := os.ReadFile(filepath.Join(strings.TrimSpace(string(dir)), "testdata", name))
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// Each format, from the test pictures of golang.org/x/image v0.47.0 and
// github.com/gen2brain/heic v0.4.5: the lossy ones are compared with the PNG
// that stands beside them there.
func TestFormats(t *testing.T) {
	shown := func(name string) *image.RGBA {
		img, err := Decode(fromModule(t, "golang.org/x/image", name))
		if err != nil {
			t.Fatal(err)
		}
		return img
	}
	want, video := shown("blue-purple-pink.png"), shown("video-001.png")
	var small bytes.Buffer
	if err := gif.Encode(&small, want, nil); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		name string
		b    []byte
		want *image.RGBA
		far  float64
	}{
		{"lossless WebP", fromModule(t, "golang.org/x/image", "blue-purple-pink.lossless.webp"), want, 0},
		{"lossy WebP", fromModule(t, "golang.org/x/image", "video-001.lossy.webp"), video, 6},
		{"TIFF", fromModule(t, "golang.org/x/image", "blue-purple-pink.lzwcompressed.tiff"), want, 0},
		{"GIF", small.Bytes(), want, 12},
	} {
		got, err := Decode(c.b)
		if err != nil || got.Rect != c.want.Rect {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if d := meanDifference(got, c.want); d > c.far {
			t.Errorf("%s differs by %.1f of 255 on average; want %v at most", c.name, d, c.far)
		}
	}
	for _, name := range []string{"test.heic", "gray.heic"} {
		if got, err := Decode(fromModule(t, "github.com/gen2brain/heic", name)); err != nil || got.Rect.Dx() < 64 {
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, err := Decode(fromModule(t, "github.com/gen2brain/heic", "test.heic")[:3000]); err == nil {
		t.Error("half a HEIC file is a picture")
	}
}

func meanDifference(a, b *image.RGBA) float64 {
	sum := 0.0
	for i := range a.Pix {
		sum += math.Abs(float64(a.Pix[i]) - float64(b.Pix[i]))
	}
	return sum / float64(len(a.Pix))
}

// A PNG and a WebP may say that they lie on their side too (EXIF 274 = 6).
func TestOrientationOfOtherFormats(t *testing.T) {
	exif := []byte("MM\x00*\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00")
	var b bytes.Buffer
	if err := png.Encode(&b, fourColours(64, 32)); err != nil {
		t.Fatal(err)
	}
	chunk := append(binary.BigEndian.AppendUint32(nil, uint32(len(exif))), append([]byte("eXIf"), exif...)...)
	chunk = binary.BigEndian.AppendUint32(chunk, crc32.ChecksumIEEE(chunk[4:]))
	const afterHeader = 33
	tagged := append(append(append([]byte{}, b.Bytes()[:afterHeader]...), chunk...), b.Bytes()[afterHeader:]...)
	if got, err := Decode(tagged); err != nil || got.Rect.Dx() != 32 || got.Rect.Dy() != 64 {
		t.Errorf("a PNG on its side: %v", err)
	}
	// An extended header that says there is EXIF (RFC 9649, 2.7).
	webp := []byte("RIFF\x00\x00\x00\x00WEBPVP8X\x0a\x00\x00\x00\x08\x00\x00\x00\x3f\x00\x00\x1f\x00\x00EXIF")
	webp = append(binary.LittleEndian.AppendUint32(webp, uint32(len(exif))), exif...)
	if got := orientation(webp, "webp"); got != 6 {
		t.Errorf("the WebP's orientation is %d; want 6", got)
	}
	for cut := range webp {
		orientation(webp[:cut], "webp") // must not panic
	}
	for cut := range tagged[:120] {
		orientation(tagged[:cut], "png")
	}
}

// WCAG 2's own figures: black on white is 21 : 1 and #777 on white 4.48 : 1.
func TestContrast(t *testing.T) {
	white := Luminance(255, 255, 255)
	for _, c := range []struct {
		grey uint8
		want float64
	}{{0, 21}, {0x77, 4.48}, {255, 1}} {
		if got := Contrast(white, Luminance(c.grey, c.grey, c.grey)); math.Abs(got-c.want) > 0.005 {
			t.Errorf("grey %d on white: %.3f; want %v", c.grey, got, c.want)
		}
	}
}

// L* of sRGB colours: the well-known values of the CIELAB tables for the
// primaries under D65 (Lindbloom's calculator, from memory), and the ends of
// the scale by definition (CIE 15).
func TestLightness(t *testing.T) {
	for _, c := range []struct {
		r, g, b uint8
		want    float64
	}{{0, 0, 0, 0}, {255, 255, 255, 100}, {255, 0, 0, 53.24}, {0, 255, 0, 87.73}, {0, 0, 255, 32.30}, {119, 119, 119, 50.03}} {
		if got := Lightness(Luminance(c.r, c.g, c.b)); math.Abs(got-c.want) > 0.01 {
			t.Errorf("L* of %d %d %d is %.3f; want %v", c.r, c.g, c.b, got, c.want)
		}
	}
}

// Line or photograph, on pictures of golang.org/x/image v0.47.0.
func TestLook(t *testing.T) {
	for name, drawing := range map[string]bool{
		"bw-gopher.png": true, "go-turns-two-280x360.jpeg": false, "video-001.png": false, "blue-purple-pink-large.png": false, "gopher-doc.4bpp.png": true,
	} {
		img, err := Decode(fromModule(t, "golang.org/x/image", name))
		if err != nil {
			t.Fatal(err)
		}
		f := Look(img, img)
		if f.Drawing != drawing || f.Reason == "" || f.ForClass == "" {
			t.Errorf("%s: %+v; want drawing %v", name, f, drawing)
		}
	}
	night := image.NewRGBA(image.Rect(0, 0, 200, 100))
	for i := range night.Pix {
		night.Pix[i] = uint8(10 + i/4%50)
		if i%4 == 3 {
			night.Pix[i] = 255
		}
	}
	if f := Look(night, night); !f.Grey || f.Mean > 25 {
		t.Errorf("a night: %+v; want grey and dark", f)
	}
}

func TestTrim(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 200, 160))
	fill := func(r image.Rectangle, v uint8) {
		for y := r.Min.Y; y < r.Max.Y; y++ {
			for x := r.Min.X; x < r.Max.X; x++ {
				img.SetRGBA(x, y, color.RGBA{v, v, v, 255})
			}
		}
	}
	fill(img.Rect, 248) // nearly white, as a scan is
	if got := Trim(img); got != img.Rect {
		t.Errorf("blank paper is trimmed to %v; want it whole", got)
	}
	inner := image.Rect(30, 20, 170, 150)
	fill(inner, 90)
	img.SetRGBA(5, 5, color.RGBA{0, 0, 0, 255}) // dust
	if got := Trim(img); got != inner {
		t.Errorf("trimmed to %v; want %v", got, inner)
	}
	if f := Look(img, img); f.Inner != [4]int{30, 20, 140, 130} || !f.Bordered(200, 160) {
		t.Errorf("the inside is %v", f.Inner)
	}
	// The same on a picture of golang.org/x/image v0.47.0 set on white.
	pic, err := Decode(fromModule(t, "golang.org/x/image", "go-turns-two-280x360.jpeg"))
	if err != nil {
		t.Fatal(err)
	}
	had := Trim(pic)
	framed := image.NewRGBA(image.Rect(0, 0, 400, 500))
	for i := range framed.Pix {
		framed.Pix[i] = 255
	}
	for y := range pic.Rect.Dy() {
		copy(framed.Pix[framed.PixOffset(60, 70+y):], pic.Pix[y*pic.Stride:][:4*pic.Rect.Dx()])
	}
	if got := Trim(framed); got != had.Add(image.Pt(60, 70)) {
		t.Errorf("trimmed to %v; want %v", got, had.Add(image.Pt(60, 70)))
	}
}

// A frame at an angle keeps lengths and angles: a square drawn along the
// frame's own sides is found again straight, where it belongs.
func TestFramedAtAnAngle(t *testing.T) {
	const angle, w, h = 27.0, 200, 120
	sin, cos := math.Sincos(angle * math.Pi / 180)
	at := func(x, y float64) plane.Point { // frame to picture
		return plane.Pt(300+(x-w/2)*cos-(y-h/2)*sin, 250+(x-w/2)*sin+(y-h/2)*cos)
	}
	img := image.NewRGBA(image.Rect(0, 0, 600, 500))
	for y := range 500 {
		for x := range 600 {
			fx := (float64(x)+0.5-300)*cos + (float64(y)+0.5-250)*sin + w/2
			fy := -(float64(x)+0.5-300)*sin + (float64(y)+0.5-250)*cos + h/2
			v := uint8(255)
			if fx >= 50 && fx < 110 && fy >= 30 && fy < 90 {
				v = 0
			}
			img.SetRGBA(x, y, color.RGBA{v, v, v, 255})
		}
	}
	corners := plane.Quad{at(0, 0), at(w, 0), at(w, h), at(0, h)}
	for _, mirror := range []bool{false, true} {
		q := corners
		if mirror {
			q = plane.Quad{corners[1], corners[0], corners[3], corners[2]}
		}
		got, err := Framed(img, q, mirror, w, h)
		if err != nil {
			t.Fatal(err)
		}
		wrong := 0
		for y := range h {
			for x := range w {
				fx := x
				if mirror {
					fx = w - 1 - x
				}
				dark := fx >= 50 && fx < 110 && y >= 30 && y < 90
				if (got.RGBAAt(x, y).R < 128) != dark {
					wrong++
				}
			}
		}
		if wrong > 240 { // the square's own edge is half a pixel wide
			t.Errorf("mirror %v: %d pixels are wrong", mirror, wrong)
		}
	}
	if _, err := Framed(img, plane.Quad{}, false, 10, 10); !errors.Is(err, plane.ErrCorners) {
		t.Errorf("no frame: %v; want ErrCorners", err)
	}
}

func TestDetail(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 400, 400))
	for i := range img.Pix {
		img.Pix[i] = 255
	}
	whole := plane.Quad{plane.Pt(0, 0), plane.Pt(400, 0), plane.Pt(400, 400), plane.Pt(0, 400)}
	even, err := Detail(img, whole, false, 4, 4)
	if err != nil || even[0] != 1.0/16 {
		t.Errorf("blank paper: %v, %v; want equal shares", even, err)
	}
	for y := 210; y < 290; y++ {
		for x := 110; x < 190; x++ {
			if x/8%2 == y/8%2 {
				img.SetRGBA(x, y, color.RGBA{0, 0, 0, 255})
			}
		}
	}
	shares, err := Detail(img, whole, false, 4, 4)
	sum := 0.0
	for _, s := range shares {
		sum += s
	}
	if err != nil || shares[2*4+1] < 0.95 || math.Abs(sum-1) > 1e-9 {
		t.Errorf("shares %v, %v; want all in the third row's second patch", shares, err)
	}
}

func TestLineContrast(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 100, 100))
	for y := range 100 {
		for x := range 100 {
			v := uint8(0)
			if x >= 25 {
				v = 255
			}
			img.SetRGBA(x, y, color.RGBA{v, v, v, 255})
		}
	}
	across := [][2]plane.Point{{plane.Pt(0, 50), plane.Pt(100, 50)}}
	if got := LineContrast(img, across, 255, 255, 255); math.Abs(got-0.25) > 0.02 {
		t.Errorf("white is seen on %v; want a quarter", got)
	}
	if got := LineContrast(img, across, 0, 0, 0); math.Abs(got-0.75) > 0.02 {
		t.Errorf("black is seen on %v; want three quarters", got)
	}
	if got := LineContrast(img, [][2]plane.Point{{plane.Pt(-50, -5), plane.Pt(-10, -5)}}, 0, 0, 0); got != 0 {
		t.Errorf("outside: %v; want 0", got)
	}
}

func BenchmarkLook12MP(b *testing.B) {
	img := image.NewRGBA(image.Rect(0, 0, 4000, 3000))
	for i := range img.Pix {
		img.Pix[i] = uint8(i * 7)
	}
	small := Shrink(img, 1600)
	for b.Loop() {
		Look(img, small)
	}
}
