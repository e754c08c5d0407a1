package kit

import (
	"errors"
	"io"
	"net/http"
	"strings"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/intake"
	"zestysketch/internal/store"
)

// Tidy returns what was typed with single spaces and whole letters alone.
func Tidy(typed string) string {
	return strings.Join(strings.Fields(strings.ToValidUTF8(typed, "")), " ")
}

// ReadForm parses a form, with files or without, within the size limit.
func ReadForm(w http.ResponseWriter, r *http.Request) error {
	r.Body = http.MaxBytesReader(w, r.Body, picture.MaxBytes+1<<20)
	var err error
	if strings.HasPrefix(r.Header.Get("Content-Type"), "multipart/form-data") {
		err = r.ParseMultipartForm(8 << 20)
	} else {
		err = r.ParseForm()
	}
	var tooLong *http.MaxBytesError
	if err != nil && !errors.As(err, &tooLong) {
		return Ask("The form did not arrive whole. Check the connection and send it again.")
	}
	return err
}

// HasFile reports whether the form brought a file under this name.
func HasFile(r *http.Request, field string) bool {
	return r.MultipartForm != nil && len(r.MultipartForm.File[field]) > 0 && r.MultipartForm.File[field][0].Filename != ""
}

// TakePicture decodes the picture in a form's field, turns it upright, and
// keeps it re-encoded, without metadata, with its previews.
func (k *Kit) TakePicture(r *http.Request, field string, purpose store.Purpose) (store.Picture, error) {
	if !HasFile(r, field) {
		return store.Picture{}, Ask("Choose a picture first: a JPEG, PNG, GIF, WebP, TIFF or HEIC file.")
	}
	name, b, err := ReadFile(r, field)
	if err != nil {
		return store.Picture{}, err
	}
	return k.keepPicture(r, name, b, purpose)
}

// ReadFile returns the name and the bytes of a file that the form brought.
func ReadFile(r *http.Request, field string) (name string, b []byte, err error) {
	file, head, err := r.FormFile(field)
	if err != nil {
		return "", nil, Ask("The picture did not arrive whole. Send it again.")
	}
	defer file.Close()
	if b, err = io.ReadAll(file); err != nil {
		return "", nil, Ask("The picture did not arrive whole. Send it again.")
	}
	return head.Filename, b, nil
}

func (k *Kit) keepPicture(r *http.Request, filename string, b []byte, purpose store.Purpose) (store.Picture, error) {
	p, files, err := intake.Take(filename, b, purpose)
	if err != nil {
		return store.Picture{}, Ask("“%s”: %v.", intake.Name(filename), err)
	}
	p.TeacherID = Teacher(r).ID
	err = k.Store.AddPicture(r.Context(), &p, files)
	return p, err
}
