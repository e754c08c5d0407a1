package checks

import (
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/intake"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// mostPhotos is how many photos are taken in at once, and roomForBatch the
// bytes of a batch that is sent without scripts.
const (
	mostPhotos   = 60
	roomForBatch = 600 << 20
	batchTime    = 10 * time.Minute
)

// taken is what became of one photo, in words.
type taken struct {
	Name    string
	Words   string
	Path    string // of the check-in; empty where there is none
	Waiting bool   // in the tray
	Failed  bool
}

// takeIn takes photos in, one after the other, each no longer in memory than it
// is worked on. What is wrong with one of them stops none of the others. For a
// script it answers with a line for each photo.
func (a area) takeIn(w http.ResponseWriter, r *http.Request) error {
	project, err := a.Project(r)
	if err != nil {
		return err
	}
	if _, err := a.job(r); err != nil {
		return err
	}
	r.Body = http.MaxBytesReader(w, r.Body, roomForBatch)
	// A batch is read as it is measured, a second or two a photo.
	if err := http.NewResponseController(w).SetReadDeadline(time.Now().Add(batchTime)); err != nil && !errors.Is(err, http.ErrNotSupported) {
		return err
	}
	form, err := r.MultipartReader()
	if err != nil {
		return kit.AskAt("photo", "Choose one or more photos first.")
	}
	var all []taken
	student := uint64(0)
	for {
		part, err := form.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return kit.Ask("The photos did not arrive whole; those listed on this page did. Send the others again.")
		}
		switch part.FormName() {
		case "student":
			if student, err = whose(part); err != nil {
				return err
			}
		case "photo":
			if part.FileName() == "" {
				continue
			}
			if len(all) >= mostPhotos {
				all = append(all, taken{Name: intake.Name(part.FileName()), Words: fmt.Sprintf("Only %d photos at once. Send this one with the next batch.", mostPhotos), Failed: true})
				continue
			}
			lines, err := a.takeOne(r, project, student, part)
			if err != nil {
				return err
			}
			all = append(all, lines...)
		}
	}
	if len(all) == 0 {
		return kit.AskAt("photo", "Choose one or more photos first: JPEG, PNG, GIF, WebP, TIFF or HEIC files.")
	}
	if kit.IsFragment(r) {
		return pages.Part(w, r, "stack.html", "taken", http.StatusOK, all)
	}
	if len(all) == 1 && all[0].Failed {
		return kit.Ask("“%s”: %s", all[0].Name, all[0].Words)
	}
	if len(all) == 1 && all[0].Path != "" {
		return kit.Go(w, r, all[0].Path)
	}
	view, err := a.stack(r)
	if err != nil {
		return err
	}
	view.Taken = all
	return pages.Whole(w, r, "stack.html", project.Name+" · check", view)
}

func whose(part *multipart.Part) (uint64, error) {
	text, err := io.ReadAll(io.LimitReader(part, 30))
	if err != nil || len(text) == 0 || string(text) == "0" {
		return 0, nil
	}
	student, err := strconv.ParseUint(string(text), 10, 63)
	if err != nil {
		return 0, kit.AskAt("student", "Choose whose drawing this is, or leave it to the corner tags.")
	}
	return student, nil
}

// takeOne takes one photo in. Its error is the server's, not the photo's.
func (a area) takeOne(r *http.Request, p store.Project, student uint64, part *multipart.Part) ([]taken, error) {
	name := intake.Name(part.FileName())
	b, err := io.ReadAll(io.LimitReader(part, picture.MaxBytes+1))
	if err != nil {
		return []taken{{Name: name, Words: "It did not arrive whole. Send it again.", Failed: true}}, nil
	}
	if len(b) > picture.MaxBytes {
		return []taken{{Name: name, Words: fmt.Sprintf("The file is larger than %d MB. Make it smaller, or save it as JPEG.", picture.MaxBytes>>20), Failed: true}}, nil
	}
	if student != 0 {
		if err := a.Store.Belongs(r.Context(), p.TeacherID, p.ID, student); err != nil {
			return nil, err
		}
	}
	done, err := checkin.Take(r.Context(), a.Store, p, student, part.FileName(), b)
	if picture.Unreadable(err) {
		return []taken{{Name: name, Words: err.Error() + ".", Failed: true}}, nil
	}
	if err != nil {
		return nil, err
	}
	if done.Stray != nil {
		return []taken{{Name: name, Words: done.Stray.Words, Waiting: true}}, nil
	}
	var lines []taken
	for _, c := range done.CheckIns {
		words := "Set its four corners."
		if c.Report != nil {
			words = c.Report.Say[0]
		}
		full, err := a.Store.CheckIn(r.Context(), p.TeacherID, c.ID)
		if err != nil {
			return nil, err
		}
		lines = append(lines, taken{Name: full.Student.Name, Words: words, Path: checkInPath(c.ID)})
	}
	return lines, nil
}

// stray returns the waiting photo of the address and its project.
func (a area) stray(w http.ResponseWriter, r *http.Request) (store.Stray, store.Project, error) {
	if err := kit.ReadForm(w, r); err != nil {
		return store.Stray{}, store.Project{}, err
	}
	id, err := kit.ID(r, "stray")
	if err != nil {
		return store.Stray{}, store.Project{}, err
	}
	x, err := a.Store.Stray(r.Context(), kit.Owner(r), id)
	if err != nil {
		return x, store.Project{}, err
	}
	p, err := a.Store.Project(r.Context(), kit.Owner(r), x.ProjectID)
	return x, p, err
}

// claim says whose drawing a waiting photo shows.
func (a area) claim(w http.ResponseWriter, r *http.Request) error {
	x, p, err := a.stray(w, r)
	if err != nil {
		return err
	}
	student, err := strconv.ParseUint(r.FormValue("student"), 10, 63)
	if err != nil || student == 0 {
		return kit.AskAt("student", "Choose whose drawing this is.")
	}
	if err := a.Store.Belongs(r.Context(), p.TeacherID, p.ID, student); err != nil {
		return err
	}
	c, err := checkin.Claim(r.Context(), a.Store, p, x, student)
	if err != nil {
		return err
	}
	return kit.Go(w, r, checkInPath(c.ID))
}

func (a area) removeStray(w http.ResponseWriter, r *http.Request) error {
	x, p, err := a.stray(w, r)
	if err != nil {
		return err
	}
	if err := a.Store.RemoveStray(r.Context(), x); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/check")
}
