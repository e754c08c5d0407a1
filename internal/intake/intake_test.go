package intake

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/store"
)

func shot(t testing.TB, w, h int) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.SetRGBA(x, y, color.RGBA{uint8(x / 16), uint8(y / 12), uint8((x*y + x) >> 9), 255})
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, &jpeg.Options{Quality: 92}); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func TestTake(t *testing.T) {
	p, files, err := Take(context.Background(), "pier.JPG", shot(t, 2000, 1000), store.ForReference)
	if err != nil {
		t.Fatal(err)
	}
	if p.Name != "pier" || p.Width != 2000 || p.Height != 1000 || len(p.Hash) != 32 || p.Size != int64(len(files[0].Bytes)) {
		t.Errorf("picture %+v", p)
	}
	for i, want := range []struct {
		role store.Role
		w, h int
	}{{store.Full, 2000, 1000}, {store.View, 1600, 800}, {store.Thumb, 320, 160}} {
		size, kind, err := image.DecodeConfig(bytes.NewReader(files[i].Bytes))
		if err != nil || files[i].Role != want.role || size.Width != want.w || size.Height != want.h || "image/"+kind != files[i].Kind {
			t.Errorf("file %d: %s %s %d × %d, %v; want %+v", i, files[i].Role, kind, size.Width, size.Height, err, want)
		}
	}
	if _, _, err := Take(context.Background(), "x", []byte("x"), store.ForReference); !errors.Is(err, picture.ErrKind) {
		t.Errorf("not a picture: %v; want ErrKind", err)
	}
}

// A line drawing stays a PNG, whose lines do not fray.
func TestDrawingsStayPNG(t *testing.T) {
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 400, 300))); err != nil {
		t.Fatal(err)
	}
	_, files, err := Take(context.Background(), "lines.png", b.Bytes(), store.ForReference)
	if err != nil || files[0].Kind != "image/png" {
		t.Errorf("kept as %s, %v; want image/png", files[0].Kind, err)
	}
}

func TestName(t *testing.T) {
	for in, want := range map[string]string{"a/b/pier.jpg": "pier", `C:\pics\pier.png`: "pier", "": "picture", ".jpg": "picture", "no ending": "no ending"} {
		if got := Name(in); got != want {
			t.Errorf("%q is named %q; want %q", in, got, want)
		}
	}
}

func BenchmarkTake12MP(b *testing.B) {
	jpg := shot(b, 4000, 3000)
	for b.Loop() {
		if _, _, err := Take(context.Background(), "pier.jpg", jpg, store.ForReference); err != nil {
			b.Fatal(err)
		}
	}
}
