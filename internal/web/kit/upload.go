package kit

import (
	"bytes"
	"context"
	"errors"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"strings"

	"golang.org/x/sys/unix"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/intake"
	"zestysketch/internal/letters"
	"zestysketch/internal/store"
)

// Tidy returns what was typed with single spaces and whole letters alone.
func Tidy(typed string) string { return letters.Tidy(typed) }

// What a request's body may hold, in bytes: a tick, a form, a form with a list of students or
// a plan, and one with a picture.
const (
	Tick    = 1 << 10
	Form    = 256 << 10
	List    = 8 << 20
	Picture = picture.MaxBytes + Form
)

// Archive is what a form with a file of so many bytes may hold.
func Archive(most int64) int64 { return most + Form }

// ReadTick, ReadForm and ReadPicture read a form within what its route takes, where Routes
// does not. A handler calls them when it knows whose request it is, not before.
func ReadTick(w http.ResponseWriter, r *http.Request) error    { return read(w, r, Tick) }
func ReadForm(w http.ResponseWriter, r *http.Request) error    { return read(w, r, Form) }
func ReadPicture(w http.ResponseWriter, r *http.Request) error { return read(w, r, Picture) }

func read(w http.ResponseWriter, r *http.Request, limit int64) error {
	if r.Form != nil {
		return nil // read already
	}
	r.Body = http.MaxBytesReader(w, r.Body, limit)
	var err error
	if strings.HasPrefix(r.Header.Get("Content-Type"), "multipart/form-data") {
		err = readParts(r)
	} else {
		err = r.ParseForm()
	}
	var tooLong *http.MaxBytesError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &tooLong):
		return TooLong(limit)
	case errors.As(err, &Trouble{}):
		return err
	}
	return Ask("The form did not arrive whole. Check the connection and send it again.")
}

// TooLong is the trouble of a body over its limit, in bytes.
func TooLong(limit int64) error {
	if limit >= 1<<20 {
		return Ask("The file is larger than %d MB. Make it smaller, or save it as JPEG, and try again.", limit>>20)
	}
	return Ask("That is more than this form takes. Shorten the longest text and send it again.")
}

// uploads are the files of one request. Each lies in a file without a name, which
// the system forgets when the request ends or the program dies: nothing of an
// upload, and none of its metadata, outlives it.
type uploads struct{ files map[string]upload }

type upload struct {
	name string
	file *os.File
}

type uploadsKey struct{}

// Uploads keeps a request's files until it is answered.
func Uploads(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodGet || r.Method == http.MethodHead {
			r.Body = http.NoBody // nothing is asked for with a body
		}
		u := &uploads{map[string]upload{}}
		defer func() {
			for _, one := range u.files {
				one.file.Close()
			}
		}()
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), uploadsKey{}, u)))
	})
}

func uploadsOf(r *http.Request) *uploads {
	u, ok := r.Context().Value(uploadsKey{}).(*uploads)
	if !ok {
		panic("kit.Uploads is not in the row of middleware")
	}
	return u
}

// mostParts is how many parts a form with files may have: the longest one here has thirty.
const mostParts = 64

// Parts reads the parts of a form one after the other, so many at most, each under a name.
type Parts struct {
	form *multipart.Reader
	n    int
}

// NewParts returns the parts of a request's form.
func NewParts(r *http.Request) (*Parts, error) {
	form, err := r.MultipartReader()
	return &Parts{form: form}, err
}

// Next returns the next part; io.EOF after the last, a Trouble where there are too many or
// one has no name.
func (p *Parts) Next() (*multipart.Part, error) {
	part, err := p.form.NextPart()
	if err != nil {
		return nil, err
	}
	if p.n++; p.n > mostParts || part.FormName() == "" {
		return nil, Ask("That is more than one form takes: %d files and fields at most, each with a name. Send the rest by itself.", mostParts)
	}
	return part, nil
}

// readParts reads a form with files: words into r.Form, the first file of each
// field aside.
func readParts(r *http.Request) error {
	form, err := NewParts(r)
	if err != nil {
		return err
	}
	values, room := url.Values{}, int64(Form)
	for k, v := range r.URL.Query() {
		values[k] = v
	}
	for {
		part, err := form.Next()
		if err == io.EOF {
			break
		}
		if err != nil {
			return err
		}
		if part.FileName() != "" {
			if err := uploadsOf(r).keep(part); err != nil {
				return err
			}
			continue
		}
		text, err := io.ReadAll(io.LimitReader(part, room+1))
		if err != nil {
			return err
		}
		if room -= int64(len(text)) + int64(len(part.FormName())); room < 0 {
			return &http.MaxBytesError{Limit: Form}
		}
		values[part.FormName()] = append([]string{string(text)}, values[part.FormName()]...)
	}
	r.Form, r.PostForm = values, values
	return nil
}

func (u *uploads) keep(part *multipart.Part) error {
	if _, there := u.files[part.FormName()]; there {
		return nil
	}
	f, err := nameless()
	if err != nil {
		return err
	}
	u.files[part.FormName()] = upload{part.FileName(), f}
	_, err = io.Copy(f, part)
	return err
}

// nameless returns a file on the disk that has no name, and so is gone with whoever holds it (open(2), O_TMPFILE);
// where the disk has none such, it has one for a moment.
func nameless() (*os.File, error) {
	if fd, err := unix.Open(os.TempDir(), unix.O_TMPFILE|unix.O_RDWR|unix.O_CLOEXEC, 0o600); err == nil {
		return os.NewFile(uintptr(fd), "upload"), nil
	}
	f, err := os.CreateTemp("", "zesty-upload-")
	if err != nil {
		return nil, err
	}
	if err := os.Remove(f.Name()); err != nil {
		return nil, errors.Join(err, f.Close())
	}
	return f, nil
}

// HasFile reports whether the form brought a file under this name.
func HasFile(r *http.Request, field string) bool {
	_, there := uploadsOf(r).files[field]
	return there
}

// ReadFile returns the name and the bytes of a file that the form brought.
func ReadFile(r *http.Request, field string) (name string, b []byte, err error) {
	one, there := uploadsOf(r).files[field]
	if !there {
		return "", nil, Ask("Choose a file first.")
	}
	var all bytes.Buffer
	if info, err := one.file.Stat(); err == nil {
		all.Grow(int(info.Size()) + bytes.MinRead)
	}
	if _, err := one.file.Seek(0, io.SeekStart); err != nil {
		return "", nil, err
	}
	_, err = all.ReadFrom(one.file)
	return one.name, all.Bytes(), err
}

// OpenFile returns a file that the form brought, to be read in parts while the
// request lasts, and its size in bytes.
func OpenFile(r *http.Request, field string) (io.ReaderAt, int64, error) {
	one, there := uploadsOf(r).files[field]
	if !there {
		return nil, 0, AskAt(field, "Choose a file first.")
	}
	info, err := one.file.Stat()
	if err != nil {
		return nil, 0, err
	}
	return one.file, info.Size(), nil
}

// TakePicture decodes the picture in a form's field, turns it upright, and
// keeps it re-encoded, without metadata, with its previews.
func (k *Kit) TakePicture(r *http.Request, field string, purpose store.Purpose) (store.Picture, error) {
	if !HasFile(r, field) {
		return store.Picture{}, Ask("Choose a picture first: a JPEG, PNG, GIF, WebP, TIFF, HEIC or PDF file.")
	}
	name, b, err := ReadFile(r, field)
	if err != nil {
		return store.Picture{}, err
	}
	p, files, err := intake.Take(r.Context(), name, b, purpose)
	if picture.Unreadable(err) {
		return p, Ask("“%s”: %v.", intake.Name(name), err)
	}
	if err != nil {
		return p, err
	}
	p.TeacherID = Owner(r)
	err = k.Store.AddPicture(r.Context(), &p, files)
	return p, err
}
