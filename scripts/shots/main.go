// Command shots takes the pictures in docs/screenshots from a running demo. A picture that
// hardly differs from the one that is there stays.
//
//	go run ./scripts/shots [-at http://127.0.0.1:8080] [-out docs/screenshots] [-only NAME | -path /ADDRESS] [-size 1280x800]
package main

import (
	"bytes"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"log"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"zestysketch/internal/browser"
	"zestysketch/internal/demo"
)

type view struct{ name, path, click string }

// views are the main views, by the demo's own addresses: the project half way
// through is the third that the demo makes.
var views = []view{
	{"today", "/", ""},
	{"classes", "/classes", ".student summary"},
	{"picture", "/projects/2?step=picture", ""},
	{"values", "/projects/2/values?steps=4&rule=otsu&least=80&neck=1.5&style=outlines&grid=on", ""},
	{"lines", "/projects/3/lines", ""},
	{"compose", "/projects/1?step=compose", ""},
	{"size", "/projects/3?step=size", ""},
	{"grid", "/projects/1?step=grid", ""},
	{"print", "/projects/3/print", ""},
	{"demonstration", "/projects/3/demonstration", ""},
	{"wall", "/projects/3/wall?student=9", ""},
	{"road", "/projects/3/road", ""},
	{"report", "/projects/3/report", ""},
	{"check-stack", "/projects/3/check", ""},
	{"check-table", "/checkins/7", "[data-turn=slid]"},
	{"transfer", "/projects/3/finish", ""},
	{"ink", "/projects/4/finish/ink?dark=45", ""},
	{"colour", "/projects/4/finish/colour", ""},
	{"tiles", "/projects/3/finish/tiles", ""},
}

func main() {
	at := flag.String("at", "http://127.0.0.1:8080", "the running demo")
	out := flag.String("out", filepath.Join("docs", "screenshots"), "folder for the pictures")
	only := flag.String("only", "", "only the view of this name")
	path := flag.String("path", "", "only this address, as shot.png")
	click := flag.String("click", "", "with -path: what to press before the picture is taken")
	size := flag.String("size", "1280x800", "of the window")
	flag.Parse()
	var w, h int
	if _, err := fmt.Sscanf(*size, "%dx%d", &w, &h); err != nil {
		log.Fatal("wanted a size such as 1280x800: ", err)
	}
	b, err := browser.Open()
	if err != nil {
		log.Fatal(err)
	}
	defer b.MustClose()
	page := b.MustPage(*at+"/signin").MustSetViewport(w, h, 1, false)
	page.MustElement("#email").MustInput(demo.Email)
	page.MustElement("#password").MustInput(demo.Password)
	page.MustElement("form.card-drawn button").MustClick()
	page.MustElement(".projects")
	if *path != "" {
		views = []view{{"shot", *path, *click}}
	}
	for _, v := range views {
		if *only != "" && !strings.HasPrefix(v.name, *only) {
			continue
		}
		page.MustNavigate(*at + v.path).MustWaitLoad()
		if v.click != "" {
			page.MustElement(v.click).MustClick()
		}
		shoot(page, filepath.Join(*out, v.name+".png"))
	}
}

func shoot(page *rod.Page, file string) {
	page.MustWaitLoad().MustWaitStable()
	time.Sleep(150 * time.Millisecond) // pictures decode after load
	shot, err := page.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	if err != nil {
		log.Fatal(err)
	}
	if old, err := os.ReadFile(file); err == nil {
		share, err := changed(old, shot)
		if err != nil {
			log.Fatal(err)
		}
		if fmt.Printf("%s: %.2f %% of it changed\n", file, 100*share); share < leastChanged {
			return
		}
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
		log.Fatal(err)
	}
	if err := os.WriteFile(file, shot, 0o644); err != nil {
		log.Fatal(err)
	}
}

// leastChanged is the share of a picture that must have changed for a new one to be kept: a
// day's date is a tenth of it.
const leastChanged = 0.004

// changed returns the share of pixels in which two pictures differ by more than a shade.
func changed(old, now []byte) (float64, error) {
	a, err := png.Decode(bytes.NewReader(old))
	if err != nil {
		return 1, nil // no picture: any other is a change
	}
	b, err := png.Decode(bytes.NewReader(now))
	if err != nil || a.Bounds() != b.Bounds() {
		return 1, err
	}
	grey := func(img image.Image, x, y int) int { return int(color.GrayModel.Convert(img.At(x, y)).(color.Gray).Y) }
	n := 0
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			if d := grey(a, x, y) - grey(b, x, y); d > 24 || d < -24 {
				n++
			}
		}
	}
	return float64(n) / float64(a.Bounds().Dx()*a.Bounds().Dy()), nil
}
