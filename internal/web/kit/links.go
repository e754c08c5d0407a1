package kit

import (
	"fmt"
	"mime"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"zestysketch/internal/store"
)

// PicturePath returns the address of one rendering of a picture.
func PicturePath(id uint64, role store.Role) string {
	return fmt.Sprintf("/pictures/%d/%s", id, role)
}

// Base is the address by which students' tablets reach this server: the one by
// which the teacher did.
func Base(r *http.Request) string {
	scheme := "http"
	if r.TLS != nil || r.Header.Get("X-Forwarded-Proto") == "https" {
		scheme = "https"
	}
	return (&url.URL{Scheme: scheme, Host: r.Host}).String()
}

// Attachment returns the header that names a download after a project.
func Attachment(name, ending string) string {
	safe := strings.Map(func(r rune) rune {
		if strings.ContainsRune(`/\:*?"<>|`, r) || r < ' ' {
			return '-'
		}
		return r
	}, name)
	return mime.FormatMediaType("attachment", map[string]string{"filename": safe + "." + ending})
}

// Chosen returns the class chosen in a form, nil for none.
func (k *Kit) Chosen(r *http.Request) (*uint64, error) {
	text := r.FormValue("class")
	if text == "" {
		return nil, nil
	}
	id, err := strconv.ParseUint(text, 10, 63)
	if err != nil {
		return nil, store.ErrNotFound
	}
	class, err := k.Store.Class(r.Context(), Owner(r), id)
	return &class.ID, err
}

// Bytes writes how large a file is.
func Bytes(n int64) string {
	switch {
	case n >= 1<<30:
		return fmt.Sprintf("%.1f GB", float64(n)/(1<<30))
	case n >= 1<<20:
		return fmt.Sprintf("%.1f MB", float64(n)/(1<<20))
	}
	return fmt.Sprintf("%d KB", (n+1023)/1024)
}
