package intake

import (
	"bytes"
	"context"
	"errors"
	"image"
	"testing"

	"codeberg.org/go-pdf/fpdf"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/store"
)

// pdf makes a file of two pages: a red field at the top of the first, a blue one on the second.
func pdf(t *testing.T, password string) []byte {
	t.Helper()
	f := fpdf.New("P", "mm", "A4", "")
	if password != "" {
		f.SetProtection(0, password, "owner")
	}
	for _, c := range [][3]int{{200, 0, 0}, {0, 0, 200}} {
		f.AddPage()
		f.SetFillColor(c[0], c[1], c[2])
		f.Rect(0, 0, 210, 100, "F")
	}
	var out bytes.Buffer
	if err := f.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// A PDF gives its first page, as a sharp picture; one with a password or broken inside says so; none is a photo.
func TestFirstPageOfPDF(t *testing.T) {
	p, files, err := Take(context.Background(), "worksheet.pdf", pdf(t, ""), store.ForReference)
	if err != nil {
		t.Fatal(err)
	}
	if p.Name != "worksheet" || p.Height != pdfSide || p.Width < 1838 || p.Width > 1839 || files[0].Kind != "image/png" { // 2600 × 210 / 297
		t.Errorf("%s, %d × %d, %s", p.Name, p.Width, p.Height, files[0].Kind)
	}
	img, _, err := image.Decode(bytes.NewReader(files[0].Bytes))
	if err != nil {
		t.Fatal(err)
	}
	for y, want := range map[int][3]uint32{400: {200, 0, 0}, 1800: {255, 255, 255}} {
		if r, g, b, _ := img.At(900, y).RGBA(); r>>8 != want[0] || g>>8 != want[1] || b>>8 != want[2] {
			t.Errorf("at %d: %d %d %d; want %v", y, r>>8, g>>8, b>>8, want)
		}
	}
	for name, b := range map[string][]byte{"a password": pdf(t, "secret"), "broken": []byte("%PDF-1.7\nnothing more"), "no page": []byte("%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>")} {
		if _, _, err := Take(context.Background(), "x.pdf", b, store.ForReference); !errors.Is(err, picture.ErrPage) {
			t.Errorf("%s: %v; want %v", name, err, picture.ErrPage)
		}
	}
	if _, _, err := Take(context.Background(), "x.pdf", pdf(t, ""), store.ForCheckIn); !errors.Is(err, picture.ErrKind) {
		t.Errorf("as a photo: %v; want %v", err, picture.ErrKind)
	}
}
