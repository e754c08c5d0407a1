package picture

import (
	"bytes"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"testing"
)

// A photo of 108 megapixels, a chequered one, is shrunk while it is read; its colours and places stay.
func TestLargePhotosAreShrunk(t *testing.T) {
	const w, h, side = 12000, 9000, 1500
	img := image.NewYCbCr(image.Rect(0, 0, w, h), image.YCbCrSubsampleRatio420)
	for y := range h {
		for x := range w {
			img.Y[y*img.YStride+x] = 60
			if (x/side+y/side)%2 == 0 {
				img.Y[y*img.YStride+x] = 200
			}
		}
	}
	for i := range img.Cb {
		img.Cb[i], img.Cr[i] = 90, 150
	}
	var file bytes.Buffer
	if err := jpeg.Encode(&file, img, &jpeg.Options{Quality: 80}); err != nil {
		t.Fatal(err)
	}
	if use, err := Cost(file.Bytes()); err != nil || use > MostCost {
		t.Fatalf("it would use %d MB, %v; want %d at most", use>>20, err, MostCost>>20)
	}
	got, err := Decode(file.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	if k := float64(w) / float64(got.Rect.Dx()); got.Rect.Dx()*got.Rect.Dy() > largeKept || k != float64(h)/float64(got.Rect.Dy()) || !Shrunk(file.Bytes()) {
		t.Fatalf("%v of %d × %d", got.Rect, w, h)
	}
	for _, at := range [][2]float64{{0.06, 0.08}, {0.19, 0.08}, {0.94, 0.92}, {0.81, 0.92}} {
		x, y := int(at[0]*float64(got.Rect.Dx())), int(at[1]*float64(got.Rect.Dy()))
		want := color.YCbCr{Y: 60, Cb: 90, Cr: 150}
		if (int(at[0]*w)/side+int(at[1]*h)/side)%2 == 0 {
			want.Y = 200
		}
		r, g, b, _ := want.RGBA()
		if c := got.RGBAAt(x, y); differ(c.R, r) || differ(c.G, g) || differ(c.B, b) {
			t.Errorf("at %v: %v; want %v", at, c, want)
		}
	}
}

func differ(a uint8, b uint32) bool { return int(a)-int(b>>8) > 2 || int(b>>8)-int(a) > 2 }

// What is larger still, or is not saved as cameras do, is refused in words.
func TestLargerThanLarge(t *testing.T) {
	var file bytes.Buffer
	if err := jpeg.Encode(&file, image.NewGray(image.Rect(0, 0, 16000, 16)), nil); err != nil {
		t.Fatal(err)
	}
	taller := bytes.Replace(file.Bytes(), []byte{0xff, 0xc0, 0, 11, 8, 0, 16}, []byte{0xff, 0xc0, 0, 11, 8, 0x27, 0x10}, 1) // 16000 × 10000
	if _, err := Decode(taller); !errors.Is(err, ErrTooLarge) {
		t.Errorf("160 megapixels: %v; want %v", err, ErrTooLarge)
	}
}
