package kit

import (
	"fmt"
	"mime"
	"net/http"
	"strconv"
	"strings"

	"zestysketch/internal/store"
)

// PicturePath returns the address of one rendering of a picture.
func PicturePath(id uint64, role store.Role) string {
	return fmt.Sprintf("/pictures/%d/%s", id, role)
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
	class, err := k.Store.Class(r.Context(), Teacher(r).ID, id)
	return &class.ID, err
}
