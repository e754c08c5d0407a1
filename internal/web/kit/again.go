package kit

import (
	"maps"
	"net/http"
	"slices"
	"strings"
	"time"
)

// retryAfter is how long a browser is asked to wait while the database is away.
const retryAfter = 3 * time.Second

// secret are the words by which fields are named that are shown on no page.
var secret = []string{"password", "old", "new", "code", "secret", "letters", "word"}

// keep puts what a form held on the page that says that the database is away, so
// that it can be sent again: not files, nor what is secret, and not where it may
// have been saved already.
func (t *Trouble) keep(w http.ResponseWriter, r *http.Request) {
	if t.Unsure {
		w.Header().Set("Zesty-Unsure", "1") // app.js does not send it again by itself
		return
	}
	if r.Method != http.MethodPost || IsFragment(r) || !strings.HasPrefix(r.Header.Get("Content-Type"), "application/x-www-form-urlencoded") || ReadForm(w, r) != nil {
		return
	}
	var all []Kept
	for _, name := range slices.Sorted(maps.Keys(r.PostForm)) {
		if slices.ContainsFunc(secret, func(word string) bool { return strings.Contains(name, word) }) {
			return
		}
		for _, value := range r.PostForm[name] {
			all = append(all, Kept{name, value})
		}
	}
	t.Again, t.Path = all, r.URL.RequestURI()
}
