package web

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/demo"
)

// A tablet's camera looks at a drawing: its own rules say what to do, and take the photo
// when all is right; the server then measures it. The camera is Chromium's pretend one,
// which plays a film of a photo of the pretend hand and camera.
func TestViewfinder(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	own := "/s/" + h.link + "/photo"
	for _, k := range []lesson.StageID{"pick", "compose"} { // the sheet is being marked up
		if err := h.db.DoStage(context.Background(), h.project.TeacherID, h.project.ID, h.class.Students[0].ID, k, true); err != nil {
			t.Fatal(err)
		}
	}
	whole := h.photographed(0, h.project.ID, demo.Hand{Size: 1})
	for _, c := range []struct {
		what, say string
		film      string
	}{
		{"a tag is hidden", "The lower left tag is hidden", film(t, whole, func(img *image.RGBA) { cover(img, image.Rect(120, 1245, 215, 1345)) })},
		{"nothing is there", "A corner is out of view", film(t, plain(t), nil)},
		{"all is right", "", film(t, whole, nil)},
	} {
		s := h.open(390, 844, "use-fake-device-for-media-stream", "use-fake-ui-for-media-stream", "use-file-for-fake-video-capture="+c.film)
		s.visit(own)
		s.page.MustElement("#photo-page[data-ready]")
		s.page.MustElement("#photo-camera").MustClick()
		if c.say != "" {
			s.see("[data-say]", c.say)
			inside := s.page.MustEval(`() => [...document.querySelectorAll("#viewfinder :is([data-say], [data-take], [data-close])")].every((e) => {
				const r = e.getBoundingClientRect();
				return r.top >= 0 && r.left >= 0 && r.right <= innerWidth && r.bottom <= innerHeight && document.elementFromPoint(r.x + r.width / 2, r.y + r.height / 2) === e;
			}) && parseFloat(getComputedStyle(document.querySelector("[data-say]")).fontSize) >= 24`).Bool()
			if !inside {
				t.Errorf("%s: on a phone what is said and the buttons are not all on the screen, large enough", c.what)
			}
			s.page.MustWait(`() => Number(document.getElementById("viewfinder").dataset.looks) > 0`)
			s.page.MustElement("[data-close]").MustClick()
			continue
		}
		s.see("#photo-ruling", "The grid is true")
		s.see("#seen h2", "What your photo of")
		looks, err := strconv.ParseFloat(*s.page.MustElement("#viewfinder").MustAttribute("data-looks"), 64)
		if err != nil || looks <= 0 {
			t.Errorf("%v looks a second, %v", looks, err)
		}
		t.Logf("%s: %.1f looks a second of a film of 1350 × 1800", c.what, looks)
	}
	photos, err := h.db.CheckIns(context.Background(), h.project)
	if err != nil || len(photos) != 2 { // one is of the house
		t.Errorf("%d photos are kept, %v; want the one that was taken", len(photos), err)
	}
}

func cover(img *image.RGBA, part image.Rectangle) {
	for y := part.Min.Y; y < part.Max.Y; y++ {
		for x := part.Min.X; x < part.Max.X; x++ {
			img.SetRGBA(x, y, color.RGBA{R: 120, G: 100, B: 80, A: 255})
		}
	}
}

// film writes a photo, changed, as a film of three frames in the plain YUV format that
// Chromium's pretend camera plays (YUV4MPEG2, 4:2:0; ITU-R BT.601), and returns its path.
func film(t *testing.T, photo []byte, change func(*image.RGBA)) string {
	t.Helper()
	img, err := picture.Decode(photo)
	if err != nil {
		t.Fatal(err)
	}
	img = picture.Shrink(img, 1800)
	if change != nil {
		change(img)
	}
	var still bytes.Buffer // through a JPEG, whose planes are what a film has
	if err := jpeg.Encode(&still, img, &jpeg.Options{Quality: 92}); err != nil {
		t.Fatal(err)
	}
	decoded, err := jpeg.Decode(&still)
	if err != nil {
		t.Fatal(err)
	}
	planes := decoded.(*image.YCbCr)
	w, hgt := planes.Rect.Dx()&^1, planes.Rect.Dy()&^1
	path := filepath.Join(t.TempDir(), "film.y4m")
	file, err := os.Create(path)
	if err != nil {
		t.Fatal(err)
	}
	out := bufio.NewWriter(file)
	fmt.Fprintf(out, "YUV4MPEG2 W%d H%d F10:1 Ip A1:1 C420jpeg\n", w, hgt)
	for range 3 {
		fmt.Fprintln(out, "FRAME")
		for y := range hgt {
			out.Write(planes.Y[y*planes.YStride : y*planes.YStride+w])
		}
		for _, plane := range [][]byte{planes.Cb, planes.Cr} {
			for y := range hgt / 2 {
				out.Write(plane[y*planes.CStride : y*planes.CStride+w/2])
			}
		}
	}
	if err := out.Flush(); err != nil {
		t.Fatal(err)
	}
	if err := file.Close(); err != nil {
		t.Fatal(err)
	}
	return path
}
