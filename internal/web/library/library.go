// Package library keeps a teacher's pictures, with tags and difficulty.
package library

import (
	"embed"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/library", store.Owns, kit.NoAudit, a.list)
	r.Take("/library", kit.Picture, store.Owns, "added a picture", a.add)
	r.Post("/library/{picture}", store.Owns, "described a picture", kit.With(kit.IDOf("picture"), a.describe))
	r.Get("/library/{picture}/hard", store.ToLook, kit.NoAudit, kit.With(kit.IDOf("picture"), a.hard))
	r.Post("/library/{picture}/remove", store.Owns, "removed a picture", kit.With(kit.IDOf("picture"), a.remove))
}

// shelf is what the library shows.
type shelf struct {
	Words    string
	Pictures []store.Picture
}

// Most letters of a name and of all tags.
const longestName, longestTags = 60, 200

func (a area) list(w http.ResponseWriter, r *http.Request) error {
	words := strings.ToValidUTF8(r.FormValue("words"), "")
	if runes := []rune(words); len(runes) > longestName {
		words = string(runes[:longestName])
	}
	pictures, err := a.Store.Library(r.Context(), kit.Teacher(r).ID, words)
	if err != nil {
		return err
	}
	view := shelf{words, pictures}
	if kit.IsFragment(r) {
		return pages.Part(w, r, "library.html", "shelf", http.StatusOK, view)
	}
	return pages.Whole(w, r, "library.html", "Pictures", view)
}

// hard answers with how hard a picture is, for its card.
func (a area) hard(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	pic, err := a.Store.Picture(r.Context(), kit.Teacher(r).ID, id)
	if err != nil {
		return err
	}
	h, err := a.Hard(r.Context(), kit.Teacher(r).ID, pic)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "library.html", "hard", http.StatusOK, h)
}

func (a area) add(w http.ResponseWriter, r *http.Request) error {
	if _, err := a.TakePicture(r, "picture", store.ForReference); err != nil {
		return err
	}
	return kit.Go(w, r, "/library")
}

func (a area) describe(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	tidy := func(field string) string {
		return kit.Tidy(r.FormValue(field))
	}
	name, tags := tidy("name"), tidy("tags")
	difficulty, err := strconv.Atoi(r.FormValue("difficulty"))
	switch {
	case name == "" || len([]rune(name)) > longestName:
		return kit.AskAt("name", "Write a name for the picture, of at most %d letters.", longestName)
	case len([]rune(tags)) > longestTags:
		return kit.AskAt("tags", "Write fewer tags: %d letters are kept.", longestTags)
	case err != nil || difficulty < 0 || difficulty > 3:
		return kit.AskAt("difficulty", "Choose easy, middling or hard.")
	}
	if err := a.Store.DescribePicture(r.Context(), kit.Teacher(r).ID, id, name, tags, difficulty); err != nil {
		return err
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, "/library")
	}
	p, err := a.Store.Picture(r.Context(), kit.Teacher(r).ID, id)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "library.html", "picture", http.StatusOK, p)
}

func (a area) remove(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	err = a.Store.RemovePicture(r.Context(), kit.Teacher(r).ID, id)
	if errors.Is(err, store.ErrTaken) {
		names, err := a.Store.DrawnFrom(r.Context(), kit.Teacher(r).ID, id)
		if err != nil {
			return err
		}
		return kit.Ask("“%s” draws from this picture. Take it off the offer there first, under Picture.", strings.Join(names, "”, “"))
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/library")
}
