// Package render turns the pages of core/sheet into PDF, SVG and PNG. It adds
// nothing to what a page says.
package render

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"io"
	"net/http"

	"codeberg.org/go-pdf/fpdf"

	"zestysketch/internal/core/page"
)

// Pictures holds encoded images, JPEG or PNG, by the names that pages use.
type Pictures map[string][]byte

// Inline returns a picture as a data address, for files that stand alone.
func (p Pictures) Inline(name string) string {
	b := p[name]
	return "data:" + http.DetectContentType(b) + ";base64," + base64.StdEncoding.EncodeToString(b)
}

// PDF writes pages as one PDF file of a title, with embedded fonts, an outline by owner and
// kind, and page labels; words stand in it in the order in which they are read, furniture at
// the foot last, and it asks printers not to scale it. Each picture is embedded once, however
// many pages show it. Nothing is written to w unless all of it could be made.
func PDF(w io.Writer, title string, pages []page.Page, pictures Pictures) error {
	doc := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm"})
	doc.SetMargins(0, 0, 0)
	doc.SetAutoPageBreak(false, 0)
	doc.SetCellMargin(0)
	doc.AddUTF8FontFromBytes("page", "", page.Regular)
	doc.AddUTF8FontFromBytes("page", "B", page.Bold)
	doc.SetLineCapStyle("round")
	doc.SetLineJoinStyle("round")
	doc.SetCreator("Zesty Sketch", true)
	doc.SetTitle(title, true)
	doc.SetLang("en")
	// The viewer must not shrink what was laid out true to size.
	doc.SetDisplayMode("fullpage", "single")
	doc.SetFont("page", "", 10) // the outline is written in the letters of the font in use
	owner := ""
	for _, pg := range pages {
		doc.AddPageFormat("P", fpdf.SizeType{Wd: float64(pg.Size.W), Ht: float64(pg.Size.H)})
		level := 0
		if pg.Owner != "" {
			if level = 1; pg.Owner != owner {
				doc.Bookmark(pg.Owner, 0, 0)
			}
		}
		owner = pg.Owner
		doc.Bookmark(pg.Title, level, 0)
		for _, foot := range []bool{false, true} {
			for _, item := range pg.Items {
				if t, ok := item.(page.Text); (ok && t.Foot) != foot {
					continue
				}
				if err := drawPDF(doc, item, pictures); err != nil {
					return fmt.Errorf("page %q: %w", pg.Title, err)
				}
			}
		}
	}
	var out bytes.Buffer
	if err := doc.Output(&out); err != nil {
		return err
	}
	_, err := w.Write(labelled(out.Bytes(), pages))
	return err
}

func drawPDF(doc *fpdf.Fpdf, item page.Item, pictures Pictures) error {
	switch v := item.(type) {
	case page.Path:
		pathPDF(doc, v)
	case page.Text:
		textPDF(doc, v)
	case page.Picture:
		return picturePDF(doc, v, pictures)
	}
	return doc.Error()
}

func pathPDF(doc *fpdf.Fpdf, p page.Path) {
	if len(p.Points) == 0 {
		return
	}
	style := ""
	if p.Fill != nil {
		doc.SetFillColor(int(p.Fill.R), int(p.Fill.G), int(p.Fill.B))
		style = "F"
	}
	if p.Width > 0 {
		doc.SetLineWidth(p.Width)
		doc.SetDrawColor(int(p.Stroke.R), int(p.Stroke.G), int(p.Stroke.B))
		style += "D"
	}
	dash := []float64{}
	if p.Dash > 0 {
		dash = []float64{p.Dash, p.Dash}
	}
	doc.SetDashPattern(dash, 0)
	doc.MoveTo(p.Points[0].X, p.Points[0].Y)
	for _, q := range p.Points[1:] {
		doc.LineTo(q.X, q.Y)
	}
	if p.Closed {
		doc.ClosePath()
	}
	doc.DrawPath(style)
}

func textPDF(doc *fpdf.Fpdf, t page.Text) {
	style := ""
	if t.Bold {
		style = "B"
	}
	doc.SetFont("page", style, 10)
	doc.SetFontUnitSize(t.Size)
	x := anchored(t)
	if t.Halo {
		doc.SetTextColor(255, 255, 255)
		doc.SetDrawColor(255, 255, 255)
		doc.SetLineWidth(t.Size * 0.22)
		doc.SetDashPattern([]float64{}, 0)
		doc.SetTextRenderingMode(2)
		doc.Text(x, t.At.Y, t.Words)
		doc.SetTextRenderingMode(0)
	}
	doc.SetTextColor(int(t.Color.R), int(t.Color.G), int(t.Color.B))
	doc.Text(x, t.At.Y, t.Words)
}

// anchored returns where a text's first letter starts, in mm.
func anchored(t page.Text) float64 {
	width := page.TextWidth(t.Words, t.Size, t.Bold)
	switch t.Anchor {
	case page.Middle:
		return t.At.X - width/2
	case page.End:
		return t.At.X - width
	}
	return t.At.X
}

func picturePDF(doc *fpdf.Fpdf, p page.Picture, pictures Pictures) error {
	b, ok := pictures[p.Name]
	if !ok {
		return fmt.Errorf("no picture is named %q", p.Name)
	}
	kind := "JPG"
	if http.DetectContentType(b) == "image/png" {
		kind = "PNG"
	}
	opts := fpdf.ImageOptions{ImageType: kind}
	doc.RegisterImageOptionsReader(p.Name, opts, bytes.NewReader(b))
	if p.Fade > 0 {
		doc.SetAlpha(1-p.Fade, "Normal")
		defer doc.SetAlpha(1, "Normal")
	}
	if p.Part == nil {
		doc.ImageOptions(p.Name, p.Box.Min.X, p.Box.Min.Y, p.Box.Width(), p.Box.Height(), false, opts, 0, "")
		return doc.Error()
	}
	// All of the picture is laid down about its true size at the page's corner,
	// then carried to where the part fills the box; the box cuts off the rest.
	w := float64(p.Part.Picture[0]) * p.Box.Width() / p.Part.Size[0]
	h := float64(p.Part.Picture[1]) * p.Box.Height() / p.Part.Size[1]
	doc.ClipRect(p.Box.Min.X, p.Box.Min.Y, p.Box.Width(), p.Box.Height(), false)
	doc.TransformBegin()
	doc.Transform(inPoints(doc, p.Placed(w, h)))
	doc.ImageOptions(p.Name, 0, 0, w, h, false, opts, 0, "")
	doc.TransformEnd()
	doc.ClipEnd()
	return doc.Error()
}

// inPoints turns a map of millimetres from the top left into one of points
// from the bottom left (ISO 32000-1, 8.3.2.3).
func inPoints(doc *fpdf.Fpdf, m page.Matrix) fpdf.TransformMatrix {
	_, height := doc.GetPageSize()
	k := doc.GetConversionRatio()
	return fpdf.TransformMatrix{A: m.A, B: -m.B, C: -m.C, D: m.D, E: (m.C*height + m.E) * k, F: (height*(1-m.D) - m.F) * k}
}
