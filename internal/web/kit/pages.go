package kit

import (
	"bytes"
	"embed"
	"fmt"
	"html/template"
	"io/fs"
	"net/http"
	"strings"

	"zestysketch/internal/store"
)

//go:embed *.html
var files embed.FS

// Pages are the templates of one area: every *.html file of a folder is a page
// in the common layout, but for those that start with an underscore, which are
// parts for all pages of the folder.
type Pages map[string]*template.Template

var layout = template.Must(template.New("layout.html").Funcs(words).ParseFS(files, "layout.html", "_*.html"))

var shared = NewPages(files)

// NewPages reads an area's templates, which are compiled in and must parse.
func NewPages(folder fs.FS) Pages {
	all, err := fs.Glob(folder, "*.html")
	if err != nil {
		panic(err)
	}
	var parts, pages []string
	for _, name := range all {
		switch {
		case strings.HasPrefix(name, "_"):
			parts = append(parts, name)
		case name != "layout.html":
			pages = append(pages, name)
		}
	}
	set := Pages{}
	for _, name := range pages {
		t := template.Must(layout.Clone())
		set[name] = template.Must(t.ParseFS(folder, append(parts, name)...))
	}
	return set
}

// SearchPath is where what is searched for is found.
const SearchPath = "/search"

// view is what the layout sees.
type view struct {
	Title   string
	Teacher store.Teacher
	Student bool // the page is a student's: it leads to no sign-in
	Path    string
	Looked  string // what somebody searched for
	Whose   string // of a colleague's thing, what may be done with it; empty for one's own
	May     store.Level
	Data    any

	pageKeys []Key
}

// Whole answers with a page in the layout.
func (p Pages) Whole(w http.ResponseWriter, r *http.Request, page, title string, data any) error {
	return p.WholeStatus(w, r, page, title, http.StatusOK, data)
}

// WholeStatus is Whole with a status.
func (p Pages) WholeStatus(w http.ResponseWriter, r *http.Request, page, title string, status int, data any) error {
	return p.whole(w, r, page, status, view{Title: title, Teacher: Teacher(r), Data: data})
}

func (p Pages) whole(w http.ResponseWriter, r *http.Request, page string, status int, v view) error {
	c := callerOf(r)
	v.Path, v.Student, v.May, v.pageKeys = r.URL.Path, ofStudent(r), c.level, keysOf[page]
	if v.Looked = ""; v.Path == SearchPath {
		v.Looked = Tidy(r.URL.Query().Get("q"))
	}
	if c.level > store.Nothing && c.level < store.Owns {
		v.Whose = c.ownerName + " shares this with you " + LevelWords(c.level)
	}
	return p.execute(w, page, "layout.html", status, v)
}

// Part answers with one named block of a page, for htmx.
func (p Pages) Part(w http.ResponseWriter, _ *http.Request, page, block string, status int, data any) error {
	return p.execute(w, page, block, status, data)
}

// execute writes nothing until all is rendered, so that an error still gets its own page.
func (p Pages) execute(w http.ResponseWriter, page, block string, status int, data any) error {
	t, ok := p[page]
	if !ok {
		return fmt.Errorf("no page %q", page)
	}
	var out bytes.Buffer
	if err := t.ExecuteTemplate(&out, block, data); err != nil {
		return fmt.Errorf("rendering %s of %s: %w", block, page, err)
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(status)
	_, err := w.Write(out.Bytes())
	return err
}

// Key is a key, or several, and what it does on a page.
type Key struct{ Press, Does string }

// everywhere are the keys of every page of a teacher's.
var everywhere = []Key{{"/", "search"}, {"?", "show this"}}

// keysOf are the keys of pages, by their templates.
var keysOf = map[string][]Key{
	"bench.html": {{"arrows", "move the frame, walk the boxes, or drag the print's edge"}, {"+ −", "make the frame larger or smaller"},
		{"[ ]", "turn the frame"}, {"shift", "faster"}, {"enter", "divide the box in hand"}},
	"wall.html": {{"n p", "the next or previous student's desk"}, {"f", "fill the row of the box in hand"}, {"h", "take a hand down"},
		{"arrows", "walk the boxes"}, {"ctrl z", "empty that row again"}},
	"table.html": {{"1 to 6", "ways of looking at the drawing"}, {"a m u q", "arrows, mirror, upside down, squint"}, {"n", "the next photo"},
		{"arrows", "move the corner or landmark in hand"}, {"ctrl z", "take that back"}},
	"seats.html":         {{"arrows", "move a name to another seat"}},
	"slides.html":        {{"→", "the next drawing"}, {"←", "the one before"}},
	"demonstration.html": {{"→", "show more of the box"}, {"←", "show less"}, {"n", "the next box"}, {"b", "the box before"}, {"u", "upside down"}, {"c", "cover the rest"}},
	"eyes.html":          {{"→", "show the answer, then the next task"}, {"e", "easier"}, {"h", "harder"}},
	"gestures.html":      {{"space", "start or stop the clock"}},
	"student.html":       {{"← →", "the box before, the box after"}, {"space", "tick the box, or take it back"}},
}

// Keys returns the page's keys, those of every page last.
func (v view) Keys() []Key {
	if v.Teacher.ID == 0 {
		return v.pageKeys
	}
	return append(append([]Key{}, v.pageKeys...), everywhere...)
}

// Tabs is a row of pages that belong together.
type Tabs struct {
	Label string
	All   []Tab
}

// Tab is one of them.
type Tab struct {
	Name, Path string
	Here       bool
}

// NewTabs returns tabs from pairs of name and path; here is the path of the one
// that is shown.
func NewTabs(label, here string, pairs ...string) Tabs {
	t := Tabs{Label: label}
	for i := 0; i+1 < len(pairs); i += 2 {
		t.All = append(t.All, Tab{pairs[i], pairs[i+1], pairs[i+1] == here})
	}
	return t
}
