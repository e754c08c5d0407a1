//go:build js && wasm

// Command viewfinder is the core's own look at a camera's picture, for the browser. It sets
// zestyLook(pixels, width, height, plan, tags), which answers with what package photo says
// of it, as JSON, and zestyTag(pixels, width, height), the corner whose tag a part of the
// picture shows, -1 for none; and zestyGrid(pixels, width, height, plan), what is to be said
// of a ruled grid before anything is drawn.
package main

import (
	"encoding/json"
	"image"
	"syscall/js"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
)

// screen is pixels of the page's, used again for each picture of one size.
type screen struct{ img *image.RGBA }

func (s *screen) read(args []js.Value) *image.RGBA {
	w, h := args[1].Int(), args[2].Int()
	if s.img == nil || s.img.Rect.Dx() != w || s.img.Rect.Dy() != h {
		s.img = image.NewRGBA(image.Rect(0, 0, w, h))
	}
	js.CopyBytesToGo(s.img.Pix, args[0])
	return s.img
}

func main() {
	var whole, part screen
	text, plan := "", grid.Plan{}
	js.Global().Set("zestyLook", js.FuncOf(func(_ js.Value, args []js.Value) any {
		if now := args[3].String(); now != text {
			p, err := grid.Decode([]byte(now))
			if err != nil {
				return `{"say":"The plan cannot be read. Open your page again."}`
			}
			text, plan = now, p
		}
		var tags [4]bool
		for i := range tags {
			tags[i] = args[4].Index(i).Bool()
		}
		answer, err := json.Marshal(photo.Look(whole.read(args), plan, tags))
		if err != nil {
			return `{"say":""}` // numbers and words: cannot happen
		}
		return string(answer)
	}))
	js.Global().Set("zestyGrid", js.FuncOf(func(_ js.Value, args []js.Value) any {
		p, err := grid.Decode([]byte(args[3].String()))
		if err != nil {
			return ""
		}
		g, found := photo.Ruling(p, photo.NewShot(part.read(args)))
		switch {
		case !found:
			return "The grid is too faint here to judge it. Your teacher looks."
		case len(g.Problems) > 0:
			return g.Problems[0]
		}
		return "The grid is true: all boxes are equal."
	}))
	js.Global().Set("zestyTag", js.FuncOf(func(_ js.Value, args []js.Value) any { return photo.TagIn(part.read(args)) }))
	select {} // it is called from the page
}
