// Package reckoner does the sums of the craft alone, without a project. A sum
// lives in its address, so that it can be passed on and printed.
package reckoner

import (
	"embed"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/letters"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

// Routes adds the area's addresses. They hold nothing of anybody's, and are open.
func Routes(r chi.Router, k *kit.Kit) {
	r.Get("/reckoner", k.Handle(show))
	r.Get("/reckoner/{sum}", k.Handle(show))
	for _, s := range sums {
		k.Destinations = append(k.Destinations, kit.Destination{Name: s.Title, What: s.What, Path: "/reckoner/" + s.Name})
	}
}

// field is one thing a sum asks for.
type field struct {
	Name, Label, Usual, Hint string
	Choices                  []string // pairs of value and words
	Long                     bool     // several lines
}

// sum is one kind of sum.
type sum struct {
	Name, Title, What string
	Fields            []field
	work              func(asked) (answer, error)
}

// answer is what a sum comes to.
type answer struct {
	Board   []string // the working, as written on the board
	Facts   [][2]string
	Head    []string // of the table
	Rows    [][]string
	Steps   []string
	Notes   []grid.Finding
	Drawing template.HTML
}

// asked is what was typed, with the unit of bare numbers.
type asked struct {
	values url.Values
	unit   measure.Unit
	bad    *grid.Problems
}

func (q asked) text(name string) string { return strings.TrimSpace(q.values.Get(name)) }

func (q asked) length(name string) measure.Length {
	l, err := measure.Parse(q.text(name), q.unit)
	if err != nil {
		*q.bad = append(*q.bad, grid.Problem{Field: name, Message: "wanted a length such as 9 1/2 in or 24 cm, got “" + q.text(name) + "”"})
	}
	return l
}

func (q asked) size(name string) measure.Size {
	s, err := measure.ParseSize(q.text(name), q.unit)
	if err != nil || s.W <= 0 || s.H <= 0 {
		*q.bad = append(*q.bad, grid.Problem{Field: name, Message: "wanted a size such as 8 × 9 1/2 in, got “" + q.text(name) + "”"})
		return measure.Size{W: 1, H: 1}
	}
	return s
}

// say writes a length that was worked out, sized a size: with ≈ where a ruler has no such line.
func (q asked) say(l measure.Length) string { return l.Long(q.unit) }

func (q asked) sized(s measure.Size) string {
	if s.W.Readable(q.unit) && s.H.Readable(q.unit) {
		return s.Text(q.unit)
	}
	return "≈ " + s.Text(q.unit)
}

func (q asked) number(name string) float64 {
	l, err := measure.Parse(q.text(name), measure.Millimetre)
	if err != nil || l <= 0 || l > 1e6 || strings.ContainsFunc(q.text(name), func(r rune) bool { return r >= 'a' && r <= 'z' }) {
		*q.bad = append(*q.bad, grid.Problem{Field: name, Message: "wanted a number such as 1.5, got “" + q.text(name) + "”"})
		return 1
	}
	return float64(l)
}

// view is what a page shows.
type view struct {
	Sums     []sum
	Sum      sum
	Unit     string
	Values   map[string]string
	Problems grid.Problems
	Answer   *answer
}

// Value returns what was typed into a field, or what usually is.
func (v view) Value(f field) string { return v.Values[f.Name] }

// Choices returns a field's choices with the present one marked.
func (v view) Choices(f field) []kit.Option { return kit.Pick(v.Values[f.Name], f.Choices...) }

func show(w http.ResponseWriter, r *http.Request) error {
	name := chi.URLParam(r, "sum")
	if name == "" {
		name = sums[0].Name
	}
	v := view{Sums: sums, Values: map[string]string{}, Unit: r.URL.Query().Get("units")}
	for _, s := range sums {
		if s.Name == name {
			v.Sum = s
		}
	}
	if v.Sum.Name == "" {
		return kit.Trouble{Status: http.StatusNotFound, Message: "There is no such sum. Choose one of the reckoner's own."}
	}
	v.fill(r.URL.Query())
	if kit.IsFragment(r) {
		w.Header().Set("HX-Replace-Url", r.URL.RequestURI())
		return pages.Part(w, r, "reckoner.html", "answer", http.StatusOK, v)
	}
	return pages.Whole(w, r, "reckoner.html", v.Sum.Title, v)
}

// longestField bounds what is read of one field.
const longestField = 2000

func (v *view) fill(query url.Values) {
	unit, err := measure.ParseUnit(v.Unit)
	if err != nil {
		unit = measure.Inch
	}
	v.Unit = string(unit)
	q := asked{url.Values{}, unit, &v.Problems}
	for _, f := range v.Sum.Fields {
		value := f.Usual
		if query.Has(f.Name) {
			value = strings.ToValidUTF8(query.Get(f.Name), "")
		}
		v.Values[f.Name] = letters.Cut(value, longestField)
		q.values.Set(f.Name, v.Values[f.Name])
	}
	out, err := v.Sum.work(q)
	if p := grid.ProblemsOf(err); p != nil {
		v.Problems = append(v.Problems, p...)
	} else if err != nil {
		_, said, _ := strings.Cut(err.Error(), ": ")
		v.Problems = append(v.Problems, grid.Problem{Message: said})
	}
	if v.Problems == nil {
		v.Answer = &out
	}
}

func times(k float64) string { return grid.Times(k) }

func count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
