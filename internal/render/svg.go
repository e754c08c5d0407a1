package render

import (
	"bufio"
	"encoding/xml"
	"fmt"
	"io"
	"strings"

	"zestysketch/internal/core/page"
)

// SVG writes a page as SVG with its size in millimetres. link returns the
// address of a picture by its name.
func SVG(w io.Writer, pg page.Page, link func(name string) string) error {
	out := bufio.NewWriter(w)
	fmt.Fprintf(out, `<svg xmlns="http://www.w3.org/2000/svg" width="%[1]smm" height="%[2]smm" viewBox="0 0 %[1]s %[2]s" role="img" aria-label="%[3]s">`,
		num(float64(pg.Size.W)), num(float64(pg.Size.H)), escape(pg.Title))
	itemsSVG(out, pg, link)
	io.WriteString(out, "</svg>")
	return out.Flush()
}

// SVGItems writes what is on a page without the surrounding element, to stand
// in another drawing whose user unit is a millimetre.
func SVGItems(w io.Writer, pg page.Page, link func(name string) string) error {
	out := bufio.NewWriter(w)
	itemsSVG(out, pg, link)
	return out.Flush()
}

func itemsSVG(out io.Writer, pg page.Page, link func(name string) string) {
	for _, item := range pg.Items {
		switch v := item.(type) {
		case page.Path:
			pathSVG(out, v)
		case page.Text:
			textSVG(out, v)
		case page.Picture:
			pictureSVG(out, v, escape(link(v.Name)))
		}
	}
}

func pathSVG(out io.Writer, p page.Path) {
	var d strings.Builder
	for i, q := range p.Points {
		command := "L"
		if i == 0 {
			command = "M"
		}
		d.WriteString(command + num(q.X) + " " + num(q.Y))
	}
	if p.Closed {
		d.WriteString("Z")
	}
	fill, stroke := "none", ""
	if p.Fill != nil {
		fill = hex(*p.Fill)
	}
	if p.Width > 0 {
		stroke = fmt.Sprintf(` stroke="%s" stroke-width="%s" stroke-linecap="round" stroke-linejoin="round"`, hex(p.Stroke), num(p.Width))
		if p.Dash > 0 {
			stroke += fmt.Sprintf(` stroke-dasharray="%s"`, num(p.Dash))
		}
	}
	fmt.Fprintf(out, `<path d="%s" fill="%s"%s/>`, d.String(), fill, stroke)
}

func textSVG(out io.Writer, t page.Text) {
	extra := ""
	if t.Bold {
		extra = ` font-weight="700"`
	}
	if t.Halo {
		extra += fmt.Sprintf(` stroke="#fff" stroke-width="%s" paint-order="stroke"`, num(t.Size*0.22))
	}
	anchor := [...]string{page.Start: "start", page.Middle: "middle", page.End: "end"}[t.Anchor]
	fmt.Fprintf(out, `<text x="%s" y="%s" font-family="Go, Atkinson Hyperlegible, sans-serif" font-size="%s" text-anchor="%s" fill="%s"%s>%s</text>`,
		num(t.At.X), num(t.At.Y), num(t.Size), anchor, hex(t.Color), extra, escape(t.Words))
}

// pictureSVG writes an image, or a part of it cut out by a drawing of its own.
func pictureSVG(out io.Writer, p page.Picture, address string) {
	if p.Fade > 0 {
		fmt.Fprintf(out, `<g opacity="%s">`, num(1-p.Fade))
		defer io.WriteString(out, "</g>")
	}
	x, y, w, h := num(p.Box.Min.X), num(p.Box.Min.Y), num(p.Box.Width()), num(p.Box.Height())
	if p.Part == nil {
		fmt.Fprintf(out, `<image href="%s" x="%s" y="%s" width="%s" height="%s" preserveAspectRatio="none"/>`, address, x, y, w, h)
		return
	}
	m := p.Placed(1000, 1000)
	fmt.Fprintf(out, `<svg x="%s" y="%s" width="%s" height="%s" viewBox="%s %s %s %s"><image href="%s" width="1000" height="1000" preserveAspectRatio="none" transform="matrix(%.7g %.7g %.7g %.7g %.7g %.7g)"/></svg>`,
		x, y, w, h, x, y, w, h, address, m.A, m.B, m.C, m.D, m.E, m.F)
}

// num writes millimetres to a thousandth, without idle zeros.
func num(v float64) string {
	return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.3f", v), "0"), ".")
}

func hex(c page.Color) string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }

func escape(s string) string {
	var b strings.Builder
	xml.EscapeText(&b, []byte(s)) // a Builder does not fail
	return b.String()
}
