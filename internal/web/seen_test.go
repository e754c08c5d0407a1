package web

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"image"
	"image/draw"
	_ "image/png" // what librsvg and poppler draw
	"math"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"

	"golang.org/x/net/html"

	"zestysketch/internal/store"
	"zestysketch/internal/web/static"
)

// What a page with settings shows is what its links give: on every page that is reached
// from the project and has a form that asks it again, each setting is changed in turn. Every
// link to a file then brings back the very same form; a drawing on the page is in the file,
// as pixels and word for word; and what was typed stands on some page.
func TestWhatIsSeenIsWhatIsPrinted(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.withPhoto(t)
	c := h.signIn("owner@quay.example")
	base := h.address("/projects/{project}")
	tried := 0
	for _, page := range c.crawl(base) {
		for _, f := range page.forms(page.path) {
			if files := page.files(); len(files) == 0 {
				continue
			}
			for _, change := range f.changes() {
				tried++
				c.compare(f, change)
			}
		}
	}
	if tried < 45 || c.drawings < 20 || c.onSheets[base+"/finish/tiles.pdf"] == 0 {
		t.Errorf("%d settings were changed, %d drawings compared, found on sheets %v; want every page's", tried, c.drawings, c.onSheets)
	}
}

// withPhoto gives Ada a drawing that was photographed and measured.
func (h *house) withPhoto(t *testing.T) {
	t.Helper()
	pic := store.Picture{TeacherID: h.project.TeacherID, Name: "photo", Width: 1200, Height: 1600, Hash: make([]byte, 32), Purpose: store.ForCheckIn}
	file := store.PictureFile{Role: store.Full, Kind: "image/jpeg", Bytes: h.sample.Photo}
	view := file
	view.Role = store.View
	if err := h.db.AddPicture(t.Context(), &pic, []store.PictureFile{file, view}); err != nil {
		t.Fatal(err)
	}
	corners := h.sample.Corners
	if err := h.db.AddCheckIn(t.Context(), h.project.TeacherID, &store.CheckIn{ProjectID: h.project.ID, StudentID: h.class.Students[0].ID, PictureID: pic.ID, Corners: &corners}); err != nil {
		t.Fatal(err)
	}
}

// document is a page that was read.
type document struct {
	path string // with its query
	root *html.Node
	body string
}

// unnamed are addresses of files outside this version's folder.
var unnamed = regexp.MustCompile(`"/static/[^"]*"`)

func (c *client) read(path string) (document, int) {
	c.t.Helper()
	a := c.get(path)
	for _, at := range unnamed.FindAllString(a.body, -1) {
		if !strings.HasPrefix(at[1:], static.Path("")) {
			c.t.Errorf("%s names %s, which another version may have too", path, at)
		}
	}
	root, err := html.Parse(strings.NewReader(a.body))
	if err != nil {
		c.t.Fatal(err)
	}
	return document{path, root, a.body}, a.status
}

// nodes returns a document's elements of a name.
func nodes(root *html.Node, name string) (list []*html.Node) {
	for n := range root.Descendants() {
		if n.Type == html.ElementNode && n.Data == name {
			list = append(list, n)
		}
	}
	return list
}

func attr(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

func has(n *html.Node, name string) bool {
	return slices.ContainsFunc(n.Attr, func(a html.Attribute) bool { return a.Key == name })
}

// fileAt is an address that gives a file, and no page.
var fileAt = regexp.MustCompile(`\.(pdf|svg|png)(\?|$)`)

// crawl reads every page below an address that links lead to, each once.
func (c *client) crawl(base string) (pages []document) {
	seen, next := map[string]bool{base: true}, []string{base}
	for len(next) > 0 {
		path := next[0]
		next = next[1:]
		d, status := c.read(path)
		if status != http.StatusOK {
			continue
		}
		pages = append(pages, d)
		for _, a := range nodes(d.root, "a") {
			at, _, _ := strings.Cut(attr(a, "href"), "?")
			at, _, _ = strings.Cut(at, "#")
			if strings.HasPrefix(at, base) && !seen[at] && !regexp.MustCompile(`\.\w+$`).MatchString(at) {
				seen[at] = true
				next = append(next, at)
			}
		}
	}
	return pages
}

// files returns the addresses of a page's files that carry its settings.
func (d document) files() (list []string) {
	for _, a := range nodes(d.root, "a") {
		if at := attr(a, "href"); fileAt.MatchString(at) && strings.Contains(at, "?") && !slices.Contains(list, at) {
			list = append(list, at)
		}
	}
	return list
}

// settings are a form that asks its page again.
type settings struct {
	path   string // of the page, without its query
	fields []*html.Node
}

func (d document) forms(page string) (list []settings) {
	page, _, _ = strings.Cut(page, "?")
	for _, f := range nodes(d.root, "form") {
		if attr(f, "action") != page || attr(f, "method") == "post" {
			continue
		}
		s := settings{path: page}
		for _, kind := range []string{"input", "select", "textarea"} {
			s.fields = append(s.fields, nodes(f, kind)...)
		}
		list = append(list, s)
	}
	return list
}

// values returns what a form would send.
func (s settings) values() url.Values {
	v := url.Values{}
	for _, n := range s.fields {
		name := attr(n, "name")
		switch {
		case name == "":
		case n.Data == "select":
			if got, ok := chosen(n); ok {
				v.Add(name, got)
			}
		case (attr(n, "type") == "checkbox" || attr(n, "type") == "radio") && !has(n, "checked"):
		case n.Data == "textarea" && n.FirstChild != nil:
			v.Add(name, n.FirstChild.Data)
		default:
			v.Add(name, attr(n, "value"))
		}
	}
	return v
}

func chosen(n *html.Node) (string, bool) {
	options := nodes(n, "option")
	for _, o := range options {
		if has(o, "selected") {
			return optionValue(o), true
		}
	}
	if len(options) == 0 {
		return "", false
	}
	return optionValue(options[0]), true
}

func optionValue(o *html.Node) string {
	if has(o, "value") {
		return attr(o, "value")
	}
	return strings.TrimSpace(o.FirstChild.Data)
}

// change is a form's values with one setting changed.
type change struct {
	name   string
	values url.Values
	typed  string // words that are to be found in print, empty for none
}

// changes changes every setting in turn: to another option, the other way, another number,
// other words.
func (s settings) changes() (list []change) {
	tried := map[string]int{}
	add := func(name, typed string, set func(url.Values)) {
		if tried[name]++; tried[name] > mostOfOne {
			return // one box of many with its name
		}
		v := s.values()
		set(v)
		list = append(list, change{name, v, typed})
	}
	for _, n := range s.fields {
		name, now := attr(n, "name"), attr(n, "value")
		switch kind := attr(n, "type"); {
		case name == "" || kind == "hidden" || kind == "range":
		case n.Data == "select":
			is, _ := chosen(n)
			for _, o := range nodes(n, "option") {
				if v := optionValue(o); v != is && v != "other" {
					add(name, "", func(to url.Values) { to.Set(name, v) })
					break
				}
			}
		case kind == "radio":
			if !has(n, "checked") {
				add(name, "", func(to url.Values) { to.Set(name, now) })
			}
		case kind == "checkbox":
			add(name, "", func(to url.Values) {
				if all := to[name]; slices.Contains(all, now) {
					to[name] = slices.DeleteFunc(all, func(v string) bool { return v == now })
				} else {
					to.Add(name, now)
				}
			})
		case kind == "number" || attr(n, "inputmode") == "decimal" || attr(n, "inputmode") == "numeric":
			var number float64
			fmt.Sscan(now, &number)
			add(name, "", func(to url.Values) { to.Set(name, fmt.Sprint(number+3)) })
		case attr(n, "placeholder") == "":
			add(name, "Salt & rope", func(to url.Values) { to.Set(name, "Salt & rope") })
		}
	}
	return list
}

// mostOfOne is how many boxes of one name are tried: the print room has forty kinds of pages.
const mostOfOne = 3

// compare asks a page with a setting changed, and all that it links to.
func (c *client) compare(s settings, change change) {
	c.t.Helper()
	what := s.path + " with " + change.name + " " + strings.Join(change.values[change.name], ",")
	page, status := c.read(s.path + "?" + change.values.Encode())
	if status == http.StatusUnprocessableEntity {
		return // said what to mend: there is nothing to print
	}
	if status != http.StatusOK {
		c.t.Errorf("%s: %d", what, status)
		return
	}
	forms := page.forms(s.path)
	if len(forms) == 0 {
		c.t.Errorf("%s: the form is gone", what)
		return
	}
	want, files := forms[0].values(), page.files()
	if !slices.Equal(slices.Sorted(slices.Values(change.values[change.name])), slices.Sorted(slices.Values(want[change.name]))) {
		c.t.Errorf("%s: the form shows %q", what, want[change.name])
	}
	words, fetched, asked := "", 0, map[string]bool{}
	for _, at := range files {
		address, query, _ := strings.Cut(at, "?")
		query = regexp.MustCompile(`&page=\d+$|^paper=A3&`).ReplaceAllString(query, "") // one page of it, or a paper of its own
		if typed, err := url.ParseQuery(query); err == nil && !asked[query] && !sameValues(typed, want) {
			asked[query] = true
			back, status := c.read(s.path + "?" + query)
			if status != http.StatusOK {
				c.t.Errorf("%s: the settings of %s: %d", what, at, status)
				continue
			}
			if got := back.forms(s.path)[0].values(); got.Encode() != want.Encode() {
				c.t.Errorf("%s: %s has the settings\n%v, the page\n%v", what, address, got, want)
			}
		}
		if strings.Contains(address, "/page.") {
			continue // one page of what the set has
		}
		if fetched++; fetched > mostFiles && change.typed == "" {
			continue
		}
		a := c.get(at)
		if a.status != http.StatusOK && a.status != http.StatusUnprocessableEntity {
			c.t.Errorf("%s: %s: %d", what, at, a.status)
		}
		if a.status != http.StatusOK {
			continue
		}
		if strings.HasSuffix(address, ".pdf") {
			words += c.words([]byte(a.body))
		}
		c.sameDrawing(what+": "+address, page, address, []byte(a.body))
	}
	if printed := strings.Fields(words); words != "" && !strings.HasSuffix(s.path, "/print") { // whose drawings are its pages
		for _, said := range page.lettering() {
			if !slices.Contains(printed, said) && !strings.Contains(strings.Join(printed, ""), said) {
				c.t.Errorf("%s: a drawing says %q, and none of %.150q", what, said, files)
				break
			}
		}
	}
	if change.typed != "" && !strings.Contains(strings.Join(strings.Fields(words), " "), change.typed) {
		c.t.Errorf("%s: %q stands in none of %v", what, change.typed, files)
	}
}

// sameValues reports whether two forms say the same, empty fields aside.
func sameValues(a, b url.Values) bool {
	full := func(v url.Values) string {
		out := url.Values{}
		for name, all := range v {
			if kept := slices.DeleteFunc(slices.Sorted(slices.Values(all)), func(s string) bool { return s == "" }); len(kept) > 0 {
				out[name] = kept
			}
		}
		return out.Encode()
	}
	return full(a) == full(b)
}

// mostFiles is how many files of a page are fetched each time; the settings of all are read.
const mostFiles = 3

// tool runs a program on a file and returns what it prints.
func (c *client) tool(name string, args ...string) []byte {
	c.t.Helper()
	out, err := exec.Command(name, args...).Output()
	if failed := (*exec.ExitError)(nil); errors.As(err, &failed) {
		c.t.Fatalf("%s %v: %v, %s", name, args, err, failed.Stderr)
	}
	if err != nil {
		c.t.Fatal(err)
	}
	return out
}

func (c *client) words(pdf []byte) string {
	c.t.Helper()
	file := filepath.Join(c.t.TempDir(), "p.pdf")
	if err := os.WriteFile(file, pdf, 0o600); err != nil {
		c.t.Fatal(err)
	}
	return string(c.tool("pdftotext", "-raw", file, "-"))
}

// lettering returns the words that stand on a page's drawings.
func (d document) lettering() (list []string) {
	for _, svg := range nodes(d.root, "svg") {
		for _, text := range nodes(svg, "text") {
			for n := range text.Descendants() {
				if n.Type == html.TextNode {
					list = append(list, strings.Fields(n.Data)...)
				}
			}
		}
	}
	return list
}

// inline returns a page's drawings, with the pictures that a browser would fetch in them.
func (c *client) inline(d document) (list []string) {
	c.t.Helper()
	for _, n := range nodes(d.root, "svg") {
		if !strings.HasPrefix(attr(n, "viewBox"), "0 0 ") || slices.ContainsFunc(slices.Collect(n.Ancestors()), func(a *html.Node) bool { return a.Data == "svg" }) {
			continue
		}
		var out strings.Builder
		if err := html.Render(&out, n); err != nil {
			c.t.Fatal(err)
		}
		svg := out.String()
		if !has(n, "xmlns") {
			svg = strings.Replace(svg, "<svg", `<svg xmlns="http://www.w3.org/2000/svg"`, 1)
		}
		list = append(list, regexp.MustCompile(`href="/[^"]+"`).ReplaceAllStringFunc(svg, func(at string) string {
			return `href="data:image/jpeg;base64,` + base64.StdEncoding.EncodeToString([]byte(c.get(at[6:len(at)-1]).body)) + `"`
		}))
	}
	return list
}

// sameDrawing compares each page of a file with the drawings on a page that have its very
// size, reduced to a few pixels: one of them looks as it looks there.
func (c *client) sameDrawing(what string, page document, address string, file []byte) {
	c.t.Helper()
	dir := c.t.TempDir()
	path := func(name string, b []byte) string {
		at := filepath.Join(dir, name)
		if err := os.WriteFile(at, b, 0o600); err != nil {
			c.t.Fatal(err)
		}
		return at
	}
	if strings.Contains(address, "/print/") {
		return // every drawing there is a page of the set, and there are many
	}
	at := path("file"+filepath.Ext(address), file)
	drawings := c.inline(page)
	compare := func(width, height float64, printed func() seen) {
		best, alike := -1.0, 0
		for _, svg := range drawings {
			var w, h float64
			fmt.Sscanf(regexp.MustCompile(`viewBox="0 0 [\d.]+ [\d.]+`).FindString(svg), `viewBox="0 0 %f %f`, &w, &h)
			if math.Abs(w-width) < 0.5 && math.Abs(h-height) < 0.5 {
				shown := c.drawn(svg, path)
				best, alike = max(best, correlation(shown.grey, printed().grey)), alike+1
			}
		}
		if c.drawings += alike; alike > 0 && best < 0.9 {
			c.t.Errorf("%s: no drawing on the page is like the file: %.2f", what, best)
		}
	}
	switch filepath.Ext(address) {
	case ".svg":
		var w, h float64
		fmt.Sscanf(regexp.MustCompile(`width="[\d.]+mm" height="[\d.]+mm"`).FindString(string(file)), `width="%fmm" height="%fmm"`, &w, &h)
		compare(w, h, func() seen { return c.small(c.tool("rsvg-convert", "-w", "400", "-b", "white", at)) })
	case ".pdf":
		for _, m := range regexp.MustCompile(`Page +(\d+) size: +([\d.]+) x ([\d.]+)`).FindAllStringSubmatch(string(c.tool("pdfinfo", "-f", "1", "-l", "6", at)), -1) {
			var w, h float64
			fmt.Sscan(m[2], &w)
			fmt.Sscan(m[3], &h)
			printed := sync.OnceValue(func() *image.Gray {
				return grey(decoded(c.t, c.tool("pdftoppm", "-f", m[1], "-l", m[1], "-singlefile", "-r", "50.8", "-gray", "-png", at)))
			})
			if c.onSheets[address] == 0 { // once found, another setting leaves it where it is
				c.onSheets[address] = c.onPaper(drawings, w*25.4/72, h*25.4/72, printed, path)
			}
			compare(w*25.4/72, h*25.4/72, func() seen { return reduced(printed(), printed().Rect) })
		}
	}
}

// onPaper returns how many of the drawings stand at true size on a page that is larger than they, in its middle
// across, at the height at which work stands below the head line.
func (c *client) onPaper(drawings []string, width, height float64, printed func() *image.Gray, path func(string, []byte) string) (found int) {
	var page *image.Gray
	for _, svg := range drawings {
		var w, h float64
		fmt.Sscanf(regexp.MustCompile(`viewBox="0 0 [\d.]+ [\d.]+`).FindString(svg), `viewBox="0 0 %f %f`, &w, &h)
		if w < 100 || h < 100 || w > width-5 || h > height-20 {
			continue
		}
		if page == nil {
			page = printed()
		}
		const perMM = 2 // of 50.8 pixels an inch
		shown := c.drawn(svg, path)
		for top := 8.0; top < 20; top += 0.5 {
			at := image.Rect(int((width-w)/2*perMM), int(top*perMM), int((width+w)/2*perMM), int((top+h)*perMM))
			if correlation(shown.grey, reduced(page, at).grey) > 0.9 {
				found++
				break
			}
		}
	}
	return found
}

func decoded(t testing.TB, b []byte) image.Image {
	t.Helper()
	img, _, err := image.Decode(bytes.NewReader(b))
	if err != nil {
		t.Fatal(err)
	}
	return img
}

// seen is a picture reduced to a few pixels, with its height over its width.
type seen struct {
	grey  []float64
	ratio float64
}

func (c *client) small(b []byte) seen {
	c.t.Helper()
	img := grey(decoded(c.t, b))
	return reduced(img, img.Bounds())
}

// drawn returns how one of a page's drawings looks, small: most settings leave most drawings as they are, so each is
// kept.
func (c *client) drawn(svg string, path func(string, []byte) string) seen {
	c.t.Helper()
	sum := sha256.Sum256([]byte(svg))
	if kept, ok := c.looks[sum]; ok {
		return kept
	}
	if c.looks == nil {
		c.looks = map[[sha256.Size]byte]seen{}
	}
	look := c.small(c.tool("rsvg-convert", "-w", "400", "-b", "white", path("shown.svg", []byte(svg))))
	c.looks[sum] = look
	return look
}

// grey returns an image's lightness, on white.
func grey(img image.Image) *image.Gray {
	g := image.NewGray(img.Bounds())
	draw.Draw(g, g.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(g, g.Rect, img, g.Rect.Min, draw.Over)
	return g
}

// reduced returns the means of a part of an image in 60 by 60 cells.
func reduced(img *image.Gray, part image.Rectangle) seen {
	const side = 60
	s := seen{grey: make([]float64, side*side), ratio: float64(part.Dy()) / float64(part.Dx())}
	n := make([]float64, side*side)
	part = part.Intersect(img.Rect)
	for y := range part.Dy() {
		row := img.Pix[img.PixOffset(part.Min.X, part.Min.Y+y):]
		for x := range part.Dx() {
			cell := y*side/part.Dy()*side + x*side/part.Dx()
			s.grey[cell] += float64(row[x])
			n[cell]++
		}
	}
	for i := range s.grey {
		s.grey[i] /= math.Max(n[i], 1)
	}
	return s
}

// correlation is Pearson's of two rows of numbers.
func correlation(a, b []float64) float64 {
	var ma, mb float64
	for i := range a {
		ma, mb = ma+a[i]/float64(len(a)), mb+b[i]/float64(len(b))
	}
	var ab, aa, bb float64
	for i := range a {
		ab, aa, bb = ab+(a[i]-ma)*(b[i]-mb), aa+(a[i]-ma)*(a[i]-ma), bb+(b[i]-mb)*(b[i]-mb)
	}
	return ab / math.Sqrt(aa*bb)
}
