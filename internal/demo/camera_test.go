package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
)

// A dot on the desk is seen where the camera says, whatever its lens.
func TestCameraSeesWhereItSays(t *testing.T) {
	for _, bend := range []float64{0, 0.05, -0.05} {
		d := NewDesk(measure.Size{W: 300, H: 400})
		at := pt(210, 120)
		d.rect(pt(at.X-20, at.Y-20), 40, 40, page.White)
		d.rect(pt(at.X-3, at.Y-3), 6, 6, sheet.Black)
		c := Camera{Width: 600, Height: 800, Bend: bend, Quality: 95, From: plane.Quad{plane.Pt(10, 5), plane.Pt(290, 0), plane.Pt(300, 395), plane.Pt(0, 400)}}
		b, err := c.Shoot(d, seeded(1))
		if err != nil {
			t.Fatal(err)
		}
		img, err := jpeg.Decode(bytes.NewReader(b))
		if err != nil {
			t.Fatal(err)
		}
		var x, y, n float64
		for j := range c.Height {
			for i := range c.Width {
				if g := color.GrayModel.Convert(img.At(i, j)).(color.Gray).Y; g < 60 {
					x, y, n = x+float64(i)+0.5, y+float64(j)+0.5, n+1
				}
			}
		}
		want, err := c.Sees(at)
		if err != nil {
			t.Fatal(err)
		}
		if n == 0 || math.Hypot(x/n-want.X, y/n-want.Y) > 0.5 {
			t.Errorf("bend %v: the dot is at %.1f, %.1f; the camera says %.1f, %.1f", bend, x/n, y/n, want.X, want.Y)
		}
	}
}

// Blur keeps the light there is, and spreads a point by about its sigma.
func TestBlurSpreads(t *testing.T) {
	for _, sigma := range []float64{1, 2, 5} {
		img := image.NewRGBA(image.Rect(0, 0, 81, 81))
		for y := 36; y < 45; y++ {
			for x := 36; x < 45; x++ {
				img.SetRGBA(x, y, color.RGBA{200, 200, 200, 255})
			}
		}
		blur(img, sigma)
		sum, spread := 0.0, 0.0
		for y := range 81 {
			for x := range 81 {
				v := float64(img.RGBAAt(x, y).R)
				sum += v
				spread += v * float64((x-40)*(x-40))
			}
		}
		if math.Abs(sum/(200*81)-1) > 0.1 {
			t.Errorf("sigma %v: %.2f of the light is left", sigma, sum/(200*81))
		}
		// A square of 9 has a variance of 80/12 across.
		if got := math.Sqrt(max(0, spread/sum-80.0/12)); math.Abs(got-sigma) > 0.35*sigma+0.3 {
			t.Errorf("sigma %v: spread by %.2f", sigma, got)
		}
	}
}

// Light, shadow and glare do to paper what they say.
func TestCameraLight(t *testing.T) {
	mean := func(c Camera, x0, x1 float64) float64 {
		c.Width, c.Height = 200, 260
		img := image.NewRGBA(image.Rect(0, 0, c.Width, c.Height))
		for i := range img.Pix {
			img.Pix[i] = 200
		}
		c.light(img, rand.New(rand.NewPCG(1, 1)))
		sum, n := 0.0, 0.0
		for y := range c.Height {
			for x := int(x0 * 200); x < int(x1*200); x++ {
				sum += float64(img.RGBAAt(x, y).R)
				n++
			}
		}
		return sum / n
	}
	plain := mean(Camera{}, 0, 1)
	if dim := mean(Camera{Dim: 0.4}, 0.8, 1); dim > 0.85*plain {
		t.Errorf("the far side is at %.0f of %.0f", dim, plain)
	}
	if shadow := mean(Camera{Shadow: 0.5}, 0, 0.1); math.Abs(shadow/plain-0.5) > 0.05 {
		t.Errorf("in the shadow %.0f of %.0f; want half", shadow, plain)
	}
	if lit := mean(Camera{Shadow: 0.5}, 0.9, 1); math.Abs(lit/plain-1) > 0.05 {
		t.Errorf("beside the shadow %.0f of %.0f", lit, plain)
	}
	if glare := mean(Camera{Glare: 0.2}, 0.55, 0.65); glare < 1.1*plain {
		t.Errorf("in the glare %.0f of %.0f", glare, plain)
	}
}

// A hand that distorts puts a landmark there, and a photograph's landmarks say so.
func TestHandGoesAstray(t *testing.T) {
	sc, plan, err := HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	hand := Hand{Size: 1, PencilWeight: 1, Distortion: func(plane.Point) plane.Point { return plane.Pt(10, -4) }}
	shot, err := Photograph(plan, sc, hand, Camera{Width: 450, Height: 600}, 0, 0, 0.02, seeded(3))
	if err != nil {
		t.Fatal(err)
	}
	r := accuracy.Report{Corners: shot.Corners, PhotoSize: [2]int{450, 600}, Tolerance: 0.2}
	if r, err = r.Remark(plan, shot.Landmarks); err != nil {
		t.Fatal(err)
	}
	for _, o := range r.Landmarks {
		if math.Hypot(o.OffMM.X-10, o.OffMM.Y+4) > 0.01 {
			t.Errorf("%s is %v mm off; want 10, −4", o.Name, o.OffMM)
		}
	}
}

// Letters are lines on their page.
func TestLettersAreDrawn(t *testing.T) {
	if _, err := Letters([]byte("no typeface"), "A"); err == nil {
		t.Error("no typeface gave letters")
	}
}
