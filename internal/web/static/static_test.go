package static

import (
	"io/fs"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"
)

// Files are kept for a year in this version's folder, in another's or in none they are served and not kept; what is
// not there is kept nowhere.
func TestFilesAreKeptByVersion(t *testing.T) {
	serve := Handler()
	get := func(path string) *httptest.ResponseRecorder {
		w := httptest.NewRecorder()
		serve.ServeHTTP(w, httptest.NewRequest(http.MethodGet, path, nil))
		return w
	}
	for _, name := range []string{"app.js", "zest.css", "mark.svg", "vendor/htmx/htmx.min.js", "fonts/go-bold.ttf", "viewfinder.wasm"} {
		ours := get(Path(name))
		if ours.Code != http.StatusOK || ours.Header().Get("Cache-Control") != "public, max-age=31536000, immutable" {
			t.Errorf("%s: %d, %v", Path(name), ours.Code, ours.Header())
		}
		for _, folder := range []string{"/static/", "/static/v-0123456789ab/"} {
			if other := get(folder + name); other.Code != http.StatusOK || other.Header().Get("Cache-Control") != "no-cache" || other.Body.String() != ours.Body.String() {
				t.Errorf("%s%s: %d, %v", folder, name, other.Code, other.Header())
			}
		}
	}
	for _, path := range []string{Path("nothing.js"), Path(""), Path("css/"), "/static/v-0123456789ab/v-0123456789ab/app.js"} {
		if w := get(path); w.Code != http.StatusNotFound || strings.Contains(w.Header().Get("Cache-Control"), "immutable") {
			t.Errorf("%s: %d, %v", path, w.Code, w.Header())
		}
	}
}

// Scripts name one another by relative addresses, else a browser would read one of another version, or two of one.
func TestScriptsStayInTheirFolder(t *testing.T) {
	absolute := regexp.MustCompile(`["'(\x60]/static/`)
	err := fs.WalkDir(files, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(name, ".js") || strings.HasPrefix(name, "vendor/") || name == "worker.js" {
			return err
		}
		if at := absolute.Find(read(name)); at != nil {
			t.Errorf("%s names a file by %s", name, at)
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	for _, sheet := range [][]byte{styles, lean} {
		if strings.Contains(strings.ReplaceAll(string(sheet), root, ""), `"/static/`) {
			t.Error("a style sheet names a file outside its version's folder")
		}
	}
}
