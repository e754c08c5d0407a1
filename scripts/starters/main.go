// Starters makes the pictures that every school begins with, into internal/starters/pictures: line drawings by a
// pen whose weight follows the light, and still lifes by a small path tracer. It is run once; the pictures
// are kept.
//
//	go run ./scripts/starters [-ways 120] [-only jug,shoe]
package main

import (
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"io"
	"log"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

func main() {
	ways := flag.Int("ways", 120, "ways of light followed through every pixel")
	only := flag.String("only", "", "names of the pictures to make, with commas; empty for all")
	into := flag.String("into", "internal/starters/pictures", "folder")
	flag.Parse()
	wanted := func(name string) bool { return *only == "" || slices.Contains(strings.Split(*only, ","), name) }
	for _, d := range drawings() {
		if wanted(d.name) {
			keep(filepath.Join(*into, d.name+".png"), func(w io.Writer) error {
				return (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(w, grey(d.render()))
			})
		}
	}
	for _, s := range stills() {
		if wanted(s.name) {
			keep(filepath.Join(*into, s.name+".jpg"), func(w io.Writer) error {
				return jpeg.Encode(w, s.render(*ways), &jpeg.Options{Quality: 88})
			})
		}
	}
}

func keep(path string, write func(io.Writer) error) {
	began := time.Now()
	file, err := os.Create(path)
	if err == nil {
		err = write(file)
		if closing := file.Close(); err == nil {
			err = closing
		}
	}
	if err != nil {
		log.Fatal(err)
	}
	fmt.Println(path, time.Since(began).Round(time.Second))
}

// grey returns a picture in sixteen steps of grey, which is all that a pen needs.
func grey(img image.Image) image.Image {
	steps := make(color.Palette, 16)
	for i := range steps {
		steps[i] = color.Gray{Y: uint8(17 * i)}
	}
	out := image.NewPaletted(img.Bounds(), steps)
	draw.Draw(out, out.Rect, img, image.Point{}, draw.Src)
	return out
}
