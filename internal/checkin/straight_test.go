package checkin_test

import (
	"context"
	"image"
	"testing"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/intake"
	"zestysketch/internal/store"
)

// A drawing seen straight on lies where the picture lies: most of the picture's
// lines have a drawn one beside them, and of the mirrored picture's few have.
func TestStraightLiesOnThePicture(t *testing.T) {
	r := newRoom(t)
	ctx := context.Background()
	sample, err := demo.NewSample()
	if err != nil {
		t.Fatal(err)
	}
	pic, files, err := intake.Take(context.Background(), "photo.jpg", sample.Photo, store.ForCheckIn)
	if err != nil {
		t.Fatal(err)
	}
	pic.TeacherID = r.project.TeacherID
	if err := r.s.AddPicture(ctx, &pic, files); err != nil {
		t.Fatal(err)
	}
	c := store.CheckIn{ProjectID: r.project.ID, StudentID: r.class.Students[0].ID, PictureID: pic.ID, Picture: pic}
	straight := func(corners *plane.Quad) *image.RGBA {
		t.Helper()
		c.Corners = corners
		img, err := checkin.Straight(ctx, r.s, r.project.TeacherID, sample.Plan, c, 600)
		if err != nil {
			t.Fatal(err)
		}
		return img
	}
	if straight(nil) != nil || straight(&plane.Quad{plane.Pt(5, 5), plane.Pt(5, 5), plane.Pt(5, 5), plane.Pt(5, 5)}) != nil {
		t.Error("there is a drawing where nobody knows where it lies")
	}
	drawn := straight(&sample.Corners)
	ref, err := picture.Decode(sample.Picture)
	if err != nil {
		t.Fatal(err)
	}
	want := photo.Wanted(sample.Plan, photo.NewShot(ref), photo.SheetFrame(sample.Plan, 600))
	if drawn.Rect != want.Rect {
		t.Fatalf("%v; want %v", drawn.Rect, want.Rect)
	}
	w := want.Rect.Dx()
	met := func(mirrored bool) float64 {
		found, all := 0.0, 0.0
		for y := 5; y < want.Rect.Dy()-5; y += 2 {
			for x := 5; x < w-5; x += 2 {
				at := x
				if mirrored {
					at = w - 1 - x
				}
				if want.RGBAAt(at, y).R > 100 {
					continue
				}
				all++
				if darkest(drawn, x, y, 4)+35 < lightest(drawn, x, y, 4) {
					found++
				}
			}
		}
		return found / all
	}
	if right, wrong := met(false), met(true); right < 0.8 || wrong > right-0.25 {
		t.Errorf("%.2f of the lines are met, of the mirrored ones %.2f", right, wrong)
	}
}

func darkest(img *image.RGBA, x, y, r int) int {
	v := 255
	for j := y - r; j <= y+r; j++ {
		for i := x - r; i <= x+r; i++ {
			v = min(v, int(img.RGBAAt(i, j).R))
		}
	}
	return v
}

func lightest(img *image.RGBA, x, y, r int) int {
	v := 0
	for j := y - r; j <= y+r; j++ {
		for i := x - r; i <= x+r; i++ {
			v = max(v, int(img.RGBAAt(i, j).R))
		}
	}
	return v
}
