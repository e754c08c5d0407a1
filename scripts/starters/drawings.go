package main

import (
	"fmt"
	"math"

	"zestysketch/internal/core/plane"
)

// drawings are the pictures in line, easy ones first.
func drawings() []*drawing {
	return []*drawing{mug(), anchor(), boat(), umbrella(), can(), shoe(), tools(), lighthouse(), bicycle(), street()}
}

func mug() *drawing {
	d := newDrawing("mug", 160, 160)
	d.line(plain, along("M 4 122 C 20 121 30 122 40 121")...)
	d.line(plain, along("M 118 121 C 130 122 145 121 156 122")...)
	d.shape(bold, along("M 118 62 C 154 54 154 112 116 106 L 116 97 C 140 100 140 68 117 72")...)
	d.shape(bold, along("M 40 48 L 45 126 C 46 138 112 138 113 126 L 118 48 C 118 38 40 38 40 48")...)
	d.shape(plain, ellipse(79, 47, 39, 8)...)
	d.line(fine, arc(79, 48.4, 34, 5, 0, 360)...)
	d.line(plain, along("M 41.4 78 C 55 88 103 88 116.6 78")...)
	d.line(plain, along("M 42.2 92 C 55 102 103 102 115.6 92")...)
	d.line(plain, along("M 66 30 C 60 24 74 20 66 10")...)
	d.line(plain, along("M 82 32 C 76 25 92 20 84 8")...)
	d.line(plain, along("M 97 30 C 92 25 104 21 98 13")...)
	return d
}

func anchor() *drawing {
	d := newDrawing("anchor", 160, 200)
	d.shape(bold, ellipse(80, 24, 15, 15)...)
	d.shape(plain, ellipse(80, 24, 9, 9)...)
	d.shape(bold, along("M 80 186 C 40 186 18 160 14 128 L 4 130 L 18 104 L 38 124 L 28 126 C 32 146 48 164 74 168 L 74 38 L 86 38 L 86 168 C 112 164 128 146 132 126 L 122 124 L 142 104 L 156 130 L 146 128 C 142 160 120 186 80 186")...)
	d.shape(bold, along("M 42 52 L 118 52 C 124 52 124 64 118 64 L 42 64 C 36 64 36 52 42 52")...)
	d.shape(bold, ellipse(40, 58, 6, 8)...)
	d.shape(bold, ellipse(120, 58, 6, 8)...)
	over := along("M 92 14 C 118 2 140 24 118 42 C 84 66 62 84 78 100 C 96 116 126 112 116 140 C 112 150 122 158 134 160")
	var left, right = over[:0:0], over[:0:0]
	for i, p := range over { // a rope: two edges and its twist
		q := over[min(len(over)-1, i+1)]
		if i == len(over)-1 {
			p, q = over[i-1], p
		}
		l := math.Hypot(q.X-p.X, q.Y-p.Y)
		nx, ny := -(q.Y-p.Y)/l*3, (q.X-p.X)/l*3
		left, right = append(left, pt(over[i].X+nx, over[i].Y+ny)), append(right, pt(over[i].X-nx, over[i].Y-ny))
	}
	whole := append(left[:len(left):len(left)], right...)
	for i, j := len(left), len(whole)-1; i < j; i, j = i+1, j-1 {
		whole[i], whole[j] = whole[j], whole[i]
	}
	d.shape(plain, whole...)
	for i := 3; i < len(over)-4; i += 5 {
		d.line(fine, left[i], right[i+4])
	}
	return d
}

func boat() *drawing {
	d := newDrawing("boat", 180, 200)
	d.line(plain, along("M 0 142 C 30 141 50 142 62 142")...)
	d.line(plain, along("M 128 142 C 150 141 165 142 180 142")...)
	d.line(plain, along("M 0 138 C 14 128 24 124 36 130 C 44 134 50 138 56 140")...)
	d.line(plain, along("M 134 140 C 144 132 158 126 180 130")...)
	d.shape(bold, along("M 26 144 C 60 152 110 152 158 138 C 152 158 142 168 126 170 L 58 170 C 42 168 32 158 26 144")...)
	d.line(plain, along("M 30 152 C 62 160 112 160 153 147")...)
	d.line(fine, along("M 37 160 C 64 166 112 166 146 157")...)
	d.shape(plain, along("M 88 148 L 88 12 L 91 12 L 91 148")...)
	d.shape(bold, along("M 95 22 C 122 58 140 96 146 128 C 128 134 112 134 95 130 C 98 96 98 58 95 22")...)
	d.shape(bold, along("M 84 30 C 70 66 52 100 34 128 C 52 134 68 134 84 128 C 81 96 81 62 84 30")...)
	for _, y := range []float64{58, 86, 110} {
		k := (y - 22) / 106
		d.line(fine, pt(97, y), pt(95+49*math.Pow(k, 0.75), y-4))
	}
	d.line(fine, along("M 78 56 C 72 60 68 62 66 62")...)
	d.line(fine, along("M 82 92 C 70 98 58 98 52 98")...)
	d.shape(plain, along("M 91 12 L 112 8 L 108 14 L 112 19 L 91 20")...)
	d.line(plain, along("M 95 130 L 150 132")...)
	for i, p := range [][2]float64{{10, 178}, {48, 182}, {92, 178}, {136, 182}, {24, 192}, {74, 194}, {118, 192}, {156, 193}} {
		x, y := p[0], p[1]
		k := 1 - 0.1*float64(i%3)
		d.line(plain, wave(x, y, k)...)
	}
	return d
}

func umbrella() *drawing {
	d := newDrawing("umbrella", 180, 200)
	turn := func(path string) { d.shape(bold, moved(along(path), -16, 90, 96)...) }
	bend := func(weight float64, path string) { d.line(weight, moved(along(path), -16, 90, 96)...) }
	d.shape(plain, moved(along("M -1.8 -20 L -1.8 78 C -1.8 96 -26 96 -26 78 L -22 78 C -22 91 -5.4 91 -5.4 78 L -5.4 78 L -5.4 -20"), -16, 94, 96)...)
	turn("M 0 -70 C -44 -70 -74 -36 -78 6 C -70 -4 -58 -4 -50 4 C -42 -8 -24 -8 -17 3 C -9 -8 9 -8 17 3 C 24 -8 42 -8 50 4 C 58 -4 70 -4 78 6 C 74 -36 44 -70 0 -70")
	bend(plain, "M 0 -70 C -24 -60 -44 -30 -50 4")
	bend(plain, "M 0 -70 C -9 -52 -16 -26 -17 3")
	bend(plain, "M 0 -70 C 9 -52 16 -26 17 3")
	bend(plain, "M 0 -70 C 24 -60 44 -30 50 4")
	d.shape(plain, moved(along("M -1.5 -70 L -1 -82 L 1 -82 L 1.5 -70"), -16, 90, 96)...)
	for _, p := range [][2]float64{{12, 24}, {40, 14}, {160, 30}, {152, 126}, {30, 150}, {166, 172}, {52, 186}, {140, 186}, {62, 140}} {
		d.shape(plain, moved(along("M 0 -7 C 2 -2 4 0 4 3 C 4 8 -4 8 -4 3 C -4 0 -2 -2 0 -7"), 12, p[0], p[1])...)
	}
	return d
}

func can() *drawing {
	d := newDrawing("can", 210, 170)
	d.line(plain, along("M 2 146 C 18 145 32 146 46 145")...)
	d.line(plain, along("M 138 146 C 160 145 190 146 208 145")...)
	d.shape(bold, along("M 116 98 L 176 46 L 183 54 L 124 132")...)
	d.shape(bold, along("M 168 40 L 184 24 L 202 46 L 184 60 C 176 56 170 48 168 40")...)
	d.shape(plain, moved(ellipse(0, 0, 15, 5), 51, 193, 35)...)
	for i := range 5 {
		k := float64(i-2) * 5
		d.line(plain, moved(arc(0, 0, 0.6, 0.6, 0, 360), 0, 193+k*0.63, 35+k*0.78)...)
	}
	d.shape(bold, along("M 50 66 C 4 52 2 132 48 126 L 48 118 C 16 120 20 66 50 74")...)
	d.shape(bold, along("M 50 54 L 46 142 C 48 156 128 156 130 142 L 126 54 C 126 44 50 44 50 54")...)
	d.shape(plain, ellipse(88, 54, 38, 9)...)
	d.line(fine, arc(88, 56, 34, 6.5, 195, 345)...)
	d.shape(bold, along("M 56 50 C 52 4 118 2 120 48 L 113 47 C 110 14 64 14 63 49")...)
	d.line(plain, along("M 48.4 78 C 60 90 116 90 127.4 78")...)
	d.line(plain, along("M 47 126 C 60 138 118 138 129.4 126")...)
	for i, y := range []float64{66, 82, 98, 112} {
		x := 196 + 2*float64(i%2)
		d.line(fine, pt(x, y), pt(x+1.5, y+8))
		d.line(fine, pt(x-9, y+6), pt(x-8, y+13))
		d.line(fine, pt(x+8, y-5), pt(x+10, y+3))
	}
	return d
}

func shoe() *drawing {
	d := newDrawing("shoe", 220, 160)
	d.line(plain, along("M 2 138 C 8 138 14 138 18 138")...)
	d.line(plain, along("M 206 138 C 210 138 214 138 218 138")...)
	d.shape(bold, along("M 26 118 C 20 124 18 136 26 138 L 70 138 L 74 134 L 110 138 L 194 138 C 206 138 206 122 200 118")...)
	d.shape(bold, along("M 30 30 C 28 62 22 86 24 112 C 24 122 30 124 40 124 L 190 124 C 204 124 204 106 192 98 C 176 88 150 88 130 74 C 116 64 102 48 96 24 C 84 30 44 34 30 30")...)
	d.shape(plain, along("M 30 30 C 44 22 86 18 96 24 C 84 32 46 36 30 30")...)
	d.line(plain, along("M 24 112 C 60 118 140 114 200 116")...)
	d.line(plain, along("M 158 89 C 150 98 150 110 154 115")...)
	d.line(fine, along("M 154 90 C 146 98 146 110 150 115")...)
	d.line(plain, along("M 26 92 C 40 86 54 92 58 114")...)
	d.line(plain, along("M 84 31 C 88 54 100 74 118 84 C 128 90 132 94 130 100")...)
	d.line(fine, along("M 29 46 C 44 50 70 48 85 42")...)
	for i := range 5 { // laces from eyelet to eyelet
		k := float64(i)
		x, y := 87+6.5*k+0.9*k*k*0.3, 42+10.5*k-0.4*k*k
		d.shape(plain, ellipse(x, y, 2, 2)...)
		d.shape(plain, moved(along("M 1 -1.6 L 17 -9 C 19 -9 19 -6 18 -6 L 2 2"), 4*k, x, y)...)
	}
	d.line(plain, along("M 104 34 C 120 16 138 26 126 36 C 120 42 110 38 104 34")...)
	d.line(plain, along("M 104 34 C 92 14 76 10 74 18 C 74 26 92 32 104 34")...)
	d.line(plain, along("M 104 34 C 116 44 130 48 140 44")...)
	d.line(plain, along("M 104 34 C 106 44 118 54 128 56")...)
	d.line(fine, along("M 44 60 C 44 72 42 80 40 84")...)
	for i := range 9 {
		x := 30 + 19*float64(i)
		d.line(fine, pt(x, 129), pt(x+6, 129))
	}
	return d
}

func tools() *drawing {
	d := newDrawing("tools", 200, 200)
	hammer := func(weight float64, path string) { d.shape(weight, moved(along(path), 38, 84, 96)...) }
	hammer(bold, "M -5 -46 L -7 70 C -7 80 7 80 7 70 L 5 -46")
	hammer(bold, "M -8 -66 L -8 -44 L 8 -44 L 8 -50 C 22 -50 34 -46 42 -36 C 40 -54 26 -66 8 -66")
	hammer(bold, "M -8 -64 L -22 -62 L -22 -48 L -8 -46")
	hammer(bold, "M -22 -66 L -30 -66 L -30 -44 L -22 -44")
	d.line(fine, moved(along("M -3 -36 C -4 0 -4 30 -4 64"), 38, 84, 96)...)
	d.line(fine, moved(along("M 2 -30 C 2 0 3 20 2 40"), 38, 84, 96)...)
	spanner := func(weight float64, path string) { d.shape(weight, moved(along(path), -40, 116, 108)...) }
	spanner(bold, "M -5 -46 C -18 -50 -22 -66 -12 -76 L -9 -60 L 9 -60 L 12 -76 C 22 -66 18 -50 5 -46 L 5 52 C 16 56 16 78 0 80 C -16 78 -16 56 -5 52")
	spanner(plain, "M 0 58 C 8 58 8 74 0 74 C -8 74 -8 58 0 58")
	d.line(fine, moved(along("M -1.6 -34 L -1.6 42"), -40, 116, 108)...)
	driver := func(weight float64, path string) { d.shape(weight, moved(along(path), 90, 84, 186)...) }
	driver(bold, "M -3 0 L -3 -50 L -5 -58 L 5 -58 L 3 -50 L 3 0")
	driver(bold, "M -6 0 C -12 8 -8 16 -9 24 C -11 40 -10 56 0 60 C 10 56 11 40 9 24 C 8 16 12 8 6 0")
	for _, x := range []float64{-3.4, 3.4} {
		d.line(fine, moved(along("M 0 14 C 1 26 1 40 0 50"), 90, 84, 186+x)...)
	}
	for _, n := range [][3]float64{{26, 30, 20}, {44, 22, -35}, {178, 52, 60}, {176, 22, -10}} {
		d.shape(plain, moved(along("M -4 0 C -4 -2 4 -2 4 0 L 1.2 1 L 1.2 18 L 0 22 L -1.2 18 L -1.2 1"), n[2], n[0], n[1])...)
	}
	return d
}

func lighthouse() *drawing {
	d := newDrawing("lighthouse", 180, 240)
	d.line(plain, along("M 0 176 C 20 175 34 176 44 176")...)
	d.line(plain, along("M 150 176 C 160 175 170 176 180 176")...)
	for _, c := range [][3]float64{{30, 40, 1}, {150, 62, 0.8}, {142, 24, 0.6}} {
		d.line(plain, moved(along("M -24 6 C -30 -4 -18 -10 -12 -5 C -8 -16 8 -16 11 -5 C 20 -10 28 -2 22 6"), 0, c[0], c[1])...)
		d.line(plain, pt(c[0]-22, c[1]+8), pt(c[0]+20, c[1]+8))
	}
	d.shape(bold, along("M 26 214 C 30 196 38 190 50 188 C 58 176 74 180 84 178 C 110 174 132 178 142 186 C 152 190 160 200 164 214 C 150 226 44 226 26 214")...)
	d.shape(bold, along("M 114 150 L 152 150 L 152 184 L 114 184")...)
	d.shape(bold, along("M 110 150 L 120 130 L 146 130 L 156 150")...)
	d.shape(plain, along("M 124 158 L 134 158 L 134 170 L 124 170")...)
	d.line(fine, pt(129, 158), pt(129, 170))
	d.line(fine, pt(124, 164), pt(134, 164))
	d.shape(plain, along("M 140 184 L 140 162 L 148 162 L 148 184")...)
	d.shape(plain, along("M 138 134 L 138 122 L 145 122 L 145 138")...)
	d.shape(bold, along("M 64 70 L 56 182 C 66 188 104 188 112 182 L 104 70")...)
	for _, b := range [][2]float64{{92, 114}, {138, 160}} {
		l := func(y float64) float64 { return 64 - 8*(y-70)/112 }
		r := func(y float64) float64 { return 104 + 8*(y-70)/112 }
		low, high := b[1], b[0]
		d.line(plain, curve(l(high), high, r(high), 5)...)
		d.line(plain, curve(l(low), low, r(low), 6)...)
		d.hatch(4.2, pt(l(high), high), pt(84, high+4), pt(r(high), high), pt(r(low), low), pt(84, low+4.5), pt(l(low), low))
	}
	d.shape(bold, along("M 58 62 L 110 62 L 106 71 C 96 75 72 75 62 71")...)
	for x := 60.0; x <= 108.5; x += 6 {
		d.line(fine, pt(x, 62), pt(x, 50))
	}
	d.line(plain, pt(58, 50), pt(110, 50))
	d.shape(bold, along("M 71 62 L 71 36 L 97 36 L 97 62")...)
	d.line(plain, pt(80, 36), pt(80, 62))
	d.line(plain, pt(89, 36), pt(89, 62))
	d.shape(bold, along("M 66 37 C 68 24 78 18 84 16 C 90 18 100 24 102 37")...)
	d.shape(plain, ellipse(84, 12, 3.6, 3.6)...)
	d.shape(plain, along("M 77 185 L 77 170 C 77 160 91 160 91 170 L 91 185")...)
	for _, y := range []float64{80, 122} {
		d.shape(plain, moved(along("M -4 12 L -4 3 C -4 -4 4 -4 4 3 L 4 12"), 0, 84, y)...)
	}
	d.line(fine, along("M 40 200 C 48 194 54 200 60 196")...)
	d.line(fine, along("M 120 198 C 130 194 136 202 146 198")...)
	d.line(fine, along("M 74 206 C 84 200 92 208 102 202")...)
	for i, p := range [][2]float64{{6, 190}, {160, 192}, {2, 212}, {152, 216}, {16, 230}, {60, 232}, {104, 230}, {140, 234}} {
		d.line(plain, wave(p[0], p[1], 0.9-0.1*float64(i%3))...)
	}
	return d
}

func bicycle() *drawing {
	d := newDrawing("bicycle", 240, 170)
	d.line(plain, along("M 2 150 C 12 150 20 150 28 150")...)
	d.line(plain, along("M 96 150 C 120 151 140 150 158 150")...)
	d.line(plain, along("M 218 150 C 226 150 234 150 238 150")...)
	for _, x := range []float64{60, 184} {
		d.rim(bold, ellipse(x, 106, 44, 44)...)
		d.rim(plain, ellipse(x, 106, 39.5, 39.5)...)
		for i := range 18 {
			sin, cos := math.Sincos(float64(i) * 20 * math.Pi / 180)
			off := 3.0
			if i%2 == 1 {
				off = -3
			}
			d.line(fine, pt(x-off*sin, 106+off*cos), pt(x+39.5*cos, 106+39.5*sin))
		}
	}
	rod := func(x, y, u, v, thick float64) { // a tube, over what lies behind it
		l := math.Hypot(u-x, v-y)
		nx, ny := -(v-y)/l*thick/2, (u-x)/l*thick/2
		d.shape(plain, pt(x+nx, y+ny), pt(u+nx, v+ny), pt(u-nx, v-ny), pt(x-nx, y-ny))
	}
	rod(60, 106, 108, 112, 3.4)
	rod(60, 106, 90, 58, 3.2)
	rod(169, 62, 184, 106, 4.4)
	rod(108, 112, 166, 64, 5)
	rod(90, 58, 164, 54, 4.6)
	rod(108, 112, 86, 42, 5)
	rod(163, 42, 170, 66, 6)
	d.shape(bold, along("M 66 36 C 78 30 104 36 112 38 C 116 40 110 44 102 44 C 92 44 78 48 72 46 C 64 44 62 38 66 36")...)
	d.shape(plain, along("M 158 40 C 152 26 176 22 190 30 C 200 36 200 46 192 46 L 191 42 C 196 42 194 38 188 34 C 178 28 162 30 163 40")...)
	d.shape(bold, along("M 152 44 L 156 36 L 174 34 L 176 40")...)
	d.shape(plain, ellipse(108, 112, 13, 13)...)
	d.rim(fine, ellipse(108, 112, 9, 9)...)
	d.shape(plain, ellipse(60, 106, 5, 5)...)
	d.shape(plain, ellipse(184, 106, 4, 4)...)
	d.line(plain, pt(60, 101), pt(107, 99))
	d.line(plain, pt(60, 111), pt(107, 125))
	rod(100, 94, 116, 130, 3.4)
	d.shape(plain, along("M 108 130 L 124 130 L 124 134 L 108 134")...)
	d.shape(plain, along("M 92 90 L 106 90 L 106 94 L 92 94")...)
	d.shape(plain, ellipse(108, 112, 3, 3)...)
	d.line(bold, arc(184, 106, 48, 48, 196, 300)...)
	d.line(bold, arc(60, 106, 48, 48, 170, 318)...)
	d.shape(bold, along("M 188 50 L 222 50 L 216 76 L 194 76")...)
	for i := range 5 {
		k := float64(i+1) / 6
		d.line(fine, pt(188+34*k, 50), pt(194+22*k, 76))
	}
	for _, y := range []float64{57, 63, 69} {
		k := (y - 50) / 26
		d.line(fine, pt(188+6*k, y), pt(222-6*k, y))
	}
	d.shape(plain, along("M 34 52 L 80 52 L 80 55 L 34 55")...)
	d.line(plain, pt(40, 55), pt(60, 104))
	return d
}

func street() *drawing {
	d := newDrawing("street", 180, 240)
	const fx, fy = 92.0, 112.0 // where the level edges meet
	to := func(x, y, k float64) (float64, float64) { return x + (fx-x)*k, y + (fy-y)*k }
	side := func(x float64, stops []float64, roofs []float64) {
		for i := len(stops) - 2; i >= 0; i-- { // the farthest house first
			a, b := stops[i], stops[i+1]
			x0, top0 := to(x, roofs[i], a)
			x1, top1 := to(x, roofs[i], b)
			_, low0 := to(x, 240, a)
			_, low1 := to(x, 240, b)
			d.shape(bold, pt(x0, top0), pt(x1, top1), pt(x1, low1), pt(x0, low0))
			part := func(u0, v0, u1, v1 float64) { // a door or window: shares of the wall along and down
				ka, kb := a+(b-a)*u0, a+(b-a)*u1
				xa, ya := to(x, roofs[i]+(240-roofs[i])*v0, ka)
				xb, yb := to(x, roofs[i]+(240-roofs[i])*v0, kb)
				_, yc := to(x, roofs[i]+(240-roofs[i])*v1, kb)
				_, yd := to(x, roofs[i]+(240-roofs[i])*v1, ka)
				d.shape(plain, pt(xa, ya), pt(xb, yb), pt(xb, yc), pt(xa, yd))
				if v1 < 0.95 {
					d.line(fine, pt((xa+xb)/2, (ya+yb)/2), pt((xa+xb)/2, (yc+yd)/2))
					d.line(fine, pt(xa, (ya+yd)/2), pt(xb, (yb+yc)/2))
				}
			}
			part(0.14, 0.16, 0.38, 0.32)
			part(0.60, 0.16, 0.84, 0.32)
			part(0.14, 0.46, 0.38, 0.62)
			part(0.58, 0.50, 0.84, 1)
			e0, t0 := to(x, roofs[i]-9, a)
			e1, t1 := to(x, roofs[i]-9, b)
			in := 5 * math.Copysign(1, fx-x)
			d.shape(bold, pt(e0+in*(1-a), t0), pt(e1+in*(1-b), t1), pt(x1, top1), pt(x0, top0))
		}
	}
	d.line(plain, along("M 76 112 L 108 112")...)
	d.shape(plain, along("M 86 112 L 92 98 L 98 112")...) // a sail on the water at the end
	d.line(fine, pt(82, 116), pt(102, 116))
	d.line(fine, pt(80, 120), pt(104, 120))
	side(-26, []float64{0.06, 0.34, 0.55, 0.70, 0.80}, []float64{14, -10, 20, 6})
	side(206, []float64{0.04, 0.30, 0.52, 0.68, 0.79}, []float64{0, 26, -6, 16})
	for i := range 7 { // rows of stones
		k := 0.08 + 0.115*float64(i)
		_, y := to(0, 240, k)
		xl, _ := to(-26, 240, k)
		xr, _ := to(206, 240, k)
		d.line(fine, pt(xl+2, y), pt(xr-2, y))
		for j := range 6 {
			u := (float64(j) + 0.5 + 0.5*float64(i%2)) / 7
			x0 := xl + (xr-xl)*u
			_, y1 := to(0, 240, k+0.1)
			d.line(fine, pt(x0, y), pt(x0+(fx-x0)*0.1, y+(y1-y)*0.9))
		}
	}
	d.shape(bold, along("M 128 190 L 129 84 L 132 84 L 133 190")...) // the street lamp
	d.shape(bold, along("M 124 192 C 126 184 135 184 137 192")...)
	d.shape(bold, along("M 125 82 L 122 64 L 139 64 L 136 82")...)
	d.shape(bold, along("M 120 65 L 130.5 52 L 141 65")...)
	d.line(plain, curve(21, 56, 160, 20)...) // a line of flags across
	for i := range 9 {
		k := (float64(i) + 0.7) / 9.4
		x := 21 + 139*(0.75*k+0.75*k*k-0.5*k*k*k)
		y := 56 + 60*k*(1-k)
		d.shape(plain, pt(x-3.4, y), pt(x+3.4, y+0.4), pt(x, y+9))
	}
	return d
}

// wave is a little wave.
func wave(x, y, k float64) []plane.Point {
	points := along("M 0 2 C 6 -4 10 -4 14 1 C 18 5 23 3 28 -1")
	for i, p := range points {
		points[i] = pt(x+k*p.X, y+k*p.Y)
	}
	return points
}

// curve hangs between two points of one height.
func curve(x, y, u, sag float64) []plane.Point {
	return along(fmt.Sprintf("M %g %g C %g %g %g %g %g %g", x, y, x+(u-x)/4, y+sag, u-(u-x)/4, y+sag, u, y))
}
