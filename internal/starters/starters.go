// Package starters holds the pictures that every school begins with, made by scripts/starters: line drawings and
// still lifes, from easy to hard, each with its boxes and its landmarks.
package starters

import (
	"bytes"
	"embed"
	"fmt"
	"image"
	"image/draw"
	"image/jpeg"
	_ "image/png" // the drawings
	"math"
	"slices"
	"strings"
	"sync"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

//go:embed pictures
var files embed.FS

// Picture is one of them.
type Picture struct {
	Code, Name, file string
	Level            int    // 1 easy, 2 middling, 3 hard
	Parts            [2]int // boxes across and down to begin with
	Landmarks        []Landmark
}

// Landmark is a point worth getting right, in shares of the picture's width and height.
type Landmark struct {
	Name   string
	Weight int
	At     plane.Point
}

// Bytes returns the picture's file.
func (p Picture) Bytes() []byte {
	b, err := files.ReadFile("pictures/" + p.file)
	if err != nil {
		panic(err) // it was there when the program was built
	}
	return b
}

// Suited returns the way of working that suits the picture, and why.
func (p Picture) Suited() (lesson.Way, string) {
	return lesson.Suited(&picture.Facts{Drawing: strings.HasSuffix(p.file, ".png")}, p.Level)
}

// thumbSide is the longer side of a small picture, px.
const thumbSide = 320

var thumbs sync.Map // JPEG files by code, made when first looked at

// Thumb returns a small JPEG of the picture.
func (p Picture) Thumb() []byte {
	if b, ok := thumbs.Load(p.Code); ok {
		return b.([]byte)
	}
	img, _, err := image.Decode(bytes.NewReader(p.Bytes()))
	if err != nil {
		panic(err) // a test opens every one
	}
	var out bytes.Buffer
	jpeg.Encode(&out, picture.Shrink(opaque(img), thumbSide), &jpeg.Options{Quality: 85}) // to memory: cannot fail
	thumbs.Store(p.Code, out.Bytes())
	return out.Bytes()
}

// opaque returns a picture as the pixels that are measured.
func opaque(img image.Image) *image.RGBA {
	whole := image.NewRGBA(img.Bounds())
	draw.Draw(whole, whole.Rect, img, image.Point{}, draw.Src)
	return whole
}

// Find returns the picture of a code; false where there is none.
func Find(code string) (Picture, bool) {
	i := slices.IndexFunc(all, func(p Picture) bool { return p.Code == code })
	if i < 0 {
		return Picture{}, false
	}
	return all[i], true
}

// All returns the pictures, easy ones first.
func All() []Picture { return all }

// sharp is how many pixels an inch a print wants at least: a little more than the plan's own warning (ours).
const sharp = 155

// Ask returns what a plan is asked for to draw the picture, kept with so many pixels, box by box: all of it,
// in its own boxes, on the common paper of the units.
func (p Picture) Ask(name string, px [2]int, units measure.Unit) grid.Request {
	ask := grid.First(name, px)
	ask.Skill = string([]grid.Skill{grid.Beginner, grid.Middle, grid.Detailed}[p.Level-1])
	ask.Method, ask.Parts = string(grid.Parts), fmt.Sprintf("%dx%d", p.Parts[0], p.Parts[1])
	wide := 7.0 // inches, as First has it, but no wider than is sharp
	if px[0] > px[1] {
		wide = 9
	}
	wide = min(wide, math.Floor(2*float64(px[0])/sharp)/2)
	ask.Reference = fmt.Sprintf("%g in", wide)
	if units != measure.Inch {
		ask.Units, ask.Reference, ask.Paper = string(units), fmt.Sprintf("%g cm", math.Floor(wide*2.54)), "A3"
	}
	return ask
}

// line makes a picture of w × h millimetres, in which its landmarks stand; still one whose landmarks are in shares of it.
func line(code, name string, level int, parts [2]int, w, h float64, landmarks ...Landmark) Picture {
	for i := range landmarks {
		landmarks[i].At = plane.Pt(landmarks[i].At.X/w, landmarks[i].At.Y/h)
	}
	return Picture{code, name, code + ".png", level, parts, landmarks}
}

func still(code, name string, level int, parts [2]int, landmarks ...Landmark) Picture {
	return Picture{code, name, code + ".jpg", level, parts, landmarks}
}

func mark(name string, weight int, x, y float64) Landmark {
	return Landmark{name, weight, plane.Pt(x, y)}
}

var all = []Picture{
	line("mug", "Mug", 1, [2]int{4, 4}, 160, 160,
		mark("Rim, left end", 3, 40, 47), mark("Rim, right end", 3, 118, 47), mark("Foot, left", 2, 45, 126), mark("Foot, right", 2, 113, 126), mark("Handle, outermost", 1, 145, 82)),
	line("boat", "Sailing boat", 1, [2]int{5, 6}, 180, 200,
		mark("Top of the mast", 3, 90, 12), mark("Bow", 3, 158, 138), mark("Stern", 3, 26, 144), mark("Corner of the mainsail", 2, 146, 128), mark("Corner of the jib", 2, 34, 128)),
	line("anchor", "Anchor", 1, [2]int{4, 5}, 160, 200,
		mark("Left tip", 3, 18, 104), mark("Right tip", 3, 142, 104), mark("Lowest point", 3, 80, 186), mark("Stock, left end", 2, 34, 58), mark("Stock, right end", 2, 126, 58)),
	line("umbrella", "Umbrella in the rain", 1, [2]int{5, 6}, 180, 200,
		mark("Peak", 3, 71, 29), mark("Left tip", 3, 17, 123), mark("Right tip", 3, 167, 80), mark("Bottom of the hook", 2, 103, 188)),
	still("solids", "Cube, ball and cone", 1, [2]int{5, 4},
		mark("Top of the cone", 3, 0.786, 0.173), mark("Cube, near corner above", 3, 0.275, 0.422), mark("Cube, left corner above", 2, 0.069, 0.377), mark("Cube, near corner below", 3, 0.281, 0.771), mark("Cone, right end below", 2, 0.929, 0.698)),
	line("can", "Watering can", 2, [2]int{6, 5}, 210, 170,
		mark("Rim, left end", 3, 50, 54), mark("Rim, right end", 3, 126, 54), mark("Foot, left", 2, 46, 142), mark("Foot, right", 2, 130, 142), mark("Spout at the rose", 2, 184, 60), mark("Top of the handle", 1, 87, 14)),
	line("shoe", "Boot with laces", 2, [2]int{7, 5}, 220, 160,
		mark("Top of the heel", 3, 30, 30), mark("Top of the tongue", 3, 96, 24), mark("Toe", 3, 200, 114), mark("Heel at the sole", 2, 24, 112), mark("Knot", 2, 104, 34)),
	line("tools", "Hammer, spanner, screwdriver", 2, [2]int{6, 6}, 200, 200,
		mark("Tip of the claw", 3, 139, 94), mark("End of the hammer's handle", 3, 36, 157), mark("Ring of the spanner", 3, 158, 159), mark("Tip of the screwdriver", 2, 142, 186)),
	line("lighthouse", "Lighthouse", 2, [2]int{6, 8}, 180, 240,
		mark("Ball on the roof", 3, 84, 12), mark("Gallery, left end", 2, 58, 62), mark("Gallery, right end", 2, 110, 62), mark("Foot, left", 3, 56, 182), mark("Foot, right", 3, 112, 182), mark("Ridge of the house", 1, 146, 130)),
	still("bowls", "Bowls and a cup", 2, [2]int{6, 5},
		mark("Large bowl, left end", 3, 0.089, 0.425), mark("Large bowl, right end", 3, 0.589, 0.419), mark("Small bowl, left end", 2, 0.308, 0.712), mark("Small bowl, right end", 2, 0.549, 0.712), mark("Cup, left end of the rim", 3, 0.717, 0.517), mark("Handle, outermost", 1, 0.982, 0.592)),
	still("stair", "Stair in the sun", 2, [2]int{5, 6},
		mark("Lowest step, left foot", 3, 0.05, 0.837), mark("Lowest step, right foot", 3, 0.6, 0.897), mark("Highest step, left end", 3, 0.377, 0.272), mark("Rail, upper end", 2, 0.74, 0.174), mark("Rail, bend", 2, 0.589, 0.598)),
	still("jug", "Jug and lemons", 2, [2]int{6, 6},
		mark("Mouth, left end", 3, 0.257, 0.187), mark("Mouth, right end", 3, 0.493, 0.187), mark("Foot, left", 3, 0.266, 0.712), mark("Foot, right", 3, 0.498, 0.703), mark("Handle, outermost", 2, 0.629, 0.379), mark("Tip of the left lemon", 1, 0.045, 0.726)),
	still("lamp", "Lamp at night", 2, [2]int{6, 6},
		mark("Shade, above left", 3, 0.306, 0.118), mark("Shade, above right", 3, 0.547, 0.118), mark("Shade, below left", 3, 0.234, 0.357), mark("Shade, below right", 3, 0.623, 0.357), mark("Foot, left end", 2, 0.306, 0.685), mark("Books, right corner", 1, 0.922, 0.71)),
	line("bicycle", "Bicycle", 3, [2]int{10, 7}, 240, 170,
		mark("Rear hub", 3, 60, 106), mark("Front hub", 3, 184, 106), mark("Crank", 3, 108, 112), mark("Under the saddle", 2, 86, 44), mark("Head of the fork", 2, 166, 64)),
	line("street", "Street to the harbour", 3, [2]int{7, 9}, 180, 240,
		mark("Where the lines meet", 3, 92, 112), mark("Top of the lamp", 3, 130.5, 52), mark("Foot of the lamp", 3, 130.5, 190), mark("Flags, left end", 1, 21, 56)),
	still("cloth", "Cloth on two pegs", 3, [2]int{8, 8},
		mark("Left peg", 3, 0.212, 0.172), mark("Right peg", 3, 0.781, 0.172), mark("Hem, left end", 2, 0.065, 0.786), mark("Hem, right end", 2, 0.931, 0.79)),
}
