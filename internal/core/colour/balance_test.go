package colour

import (
	"image"
	"image/color"
	"image/draw"
	"math"
	"strings"
	"testing"
)

// By hand: black on the left third of a white picture weighs at 1/6 of the width, which is
// 2/3 of half the width left of the middle. A picture and its mirror weigh alike, and turned
// half round each weighs the other way.
func TestBalance(t *testing.T) {
	third := image.NewRGBA(image.Rect(0, 0, 300, 240))
	draw.Draw(third, third.Rect, image.White, image.Point{}, draw.Src)
	even := *third
	even.Pix = append([]uint8(nil), third.Pix...)
	draw.Draw(third, image.Rect(0, 0, 100, 240), image.Black, image.Point{}, draw.Src)
	b := Weigh(third)
	if math.Abs(b.Across+2.0/3) > 0.02 || math.Abs(b.Down) > 0.02 || b.Even() {
		t.Errorf("%+v; want two thirds to the left", b)
	}
	if say := b.Say(); !strings.Contains(say, "heavier on the left") || !strings.Contains(say, "dark on the right") {
		t.Errorf("said %q", say)
	}
	turned := image.NewRGBA(third.Rect)
	for y := range 240 {
		for x := range 300 {
			turned.Set(299-x, 239-y, third.At(x, y))
		}
	}
	if o := Weigh(turned); math.Abs(o.Across+b.Across) > 0.01 || math.Abs(o.Down+b.Down) > 0.01 {
		t.Errorf("turned half round: %+v; want the opposite of %+v", o, b)
	}
	if !Weigh(&even).Even() {
		t.Error("an even picture is called uneven")
	}
	corner := image.NewRGBA(image.Rect(0, 0, 200, 200))
	draw.Draw(corner, corner.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(corner, image.Rect(150, 150, 200, 200), image.NewUniform(color.RGBA{20, 20, 20, 255}), image.Point{}, draw.Src)
	if say := Weigh(corner).Say(); !strings.Contains(say, "at the bottom and on the right") || !strings.Contains(say, "at the top or on the left") {
		t.Errorf("said %q", say)
	}
}
