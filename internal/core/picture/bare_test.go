package picture

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math/rand/v2"
	"testing"
)

// noted is a JPEG with a place, a maker's words, a thumbnail and a second picture
// behind its end, which lies as turn says.
func noted(t testing.TB, turn int) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 24, 16))
	random := rand.New(rand.NewPCG(1, 2))
	for i := range img.Pix {
		img.Pix[i] = uint8(random.IntN(256))
	}
	img.Set(3, 3, color.Black)
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, nil); err != nil {
		t.Fatal(err)
	}
	plain := out.Bytes()
	segment := func(marker byte, body string) []byte {
		return append([]byte{0xff, marker, byte((len(body) + 2) >> 8), byte(len(body) + 2)}, body...)
	}
	b := append([]byte{}, plain[:2]...)
	b = append(b, segment(0xe0, "JFIF\x00\x01\x02\x00\x00\x48\x00\x48\x01\x01abc")...) // one pixel of thumbnail
	b = append(b, upAs(turn)...)
	b = append(b, segment(0xe1, "http://ns.adobe.com/xap/1.0/\x00 taken at 51.5 N")...)
	b = append(b, segment(0xfe, "by Quillfeather")...)
	b = append(b, segment(0xed, "Photoshop 3.0\x00 Quillfeather")...)
	b = append(b, plain[2:]...)
	return append(b, "Quillfeather's film follows"...)
}

// What is kept of a JPEG shows the same pixels, the same way up, and tells nothing.
func TestBare(t *testing.T) {
	for turn := 1; turn <= 8; turn++ {
		b := noted(t, turn)
		bare, got, ok := Bare(b)
		if !ok || got != turn {
			t.Fatalf("turn %d: %v, %d", turn, ok, got)
		}
		for _, word := range []string{"Quillfeather", "51.5", "Photoshop", "abc"} {
			if bytes.Contains(bare, []byte(word)) {
				t.Errorf("turn %d: %q is still in it", turn, word)
			}
		}
		want, err := Decode(b)
		if err != nil {
			t.Fatal(err)
		}
		if have, err := Decode(bare); err != nil || have.Rect != want.Rect || !bytes.Equal(have.Pix, want.Pix) {
			t.Errorf("turn %d: it shows something else, %v", turn, err)
		}
		if again, _, ok := Bare(bare); !ok || !bytes.Equal(again, bare) {
			t.Errorf("turn %d: bared twice it differs", turn)
		}
	}
	b := noted(t, 1)
	cmyk := bytes.Replace(b, []byte{0xff, 0xc0, 0, 17, 8}, []byte{0xff, 0xc0, 0, 17, 12}, 1) // 12 bits a sample
	for what, bad := range map[string][]byte{"nothing": nil, "a PNG": []byte("\x89PNG\r\n"), "cut in the picture": b[:len(b)-80], "cut in a table": b[:60], "12 bits": cmyk} {
		if _, _, ok := Bare(bad); ok {
			t.Errorf("%s is bared", what)
		}
	}
}

// Whatever comes in, what is kept of it is as good to decode as it was.
func FuzzBare(f *testing.F) {
	f.Add(noted(f, 6))
	f.Add(noted(f, 1)[:300])
	f.Fuzz(func(t *testing.T, b []byte) {
		bare, _, ok := Bare(b)
		if !ok {
			return
		}
		if size, _, err := image.DecodeConfig(bytes.NewReader(b)); err == nil && size.Width*size.Height > 100_000 {
			return // a header that promises much is slow to try, and no other
		}
		want, err1 := Decode(b)
		have, err2 := Decode(bare)
		if (err1 == nil) != (err2 == nil) || err1 == nil && !bytes.Equal(want.Pix, have.Pix) {
			t.Errorf("as it came %v, as it is kept %v; want the same picture", err1, err2)
		}
	})
}

// Colour that is kept for two pixels by two is converted as the standard library
// converts it, also at odd sides.
func TestFromYCbCr(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	for _, size := range []image.Point{{64, 48}, {33, 17}, {16, 16}} {
		img := image.NewYCbCr(image.Rectangle{Max: size}, image.YCbCrSubsampleRatio420)
		for _, plane := range [][]uint8{img.Y, img.Cb, img.Cr} {
			for i := range plane {
				plane[i] = uint8(random.IntN(256))
			}
		}
		got := upright(img, 1)
		for y := range size.Y {
			for x := range size.X {
				if want := color.RGBAModel.Convert(img.At(x, y)); got.At(x, y) != want {
					t.Fatalf("%v at %d, %d: %v; want %v", size, x, y, got.At(x, y), want)
				}
			}
		}
	}
}
