package kit

import (
	"fmt"
	"html/template"
	"mime"
	"net"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"zestysketch/internal/store"
)

// Query writes a page's settings as its links have them behind the question mark. A template
// escapes what is no template.URL once more, and then every file has the settings of nobody.
func Query(settings url.Values) template.URL { return template.URL(settings.Encode()) }

// PicturePath returns the address of one rendering of a picture.
func PicturePath(id uint64, role store.Role) string { return fmt.Sprintf("/pictures/%d/%s", id, role) }

// Base is the address by which students' tablets reach this server: the school's
// own where it has settled one, else the one by which the teacher did.
func (k *Kit) Base(r *http.Request) string {
	if own := Teacher(r).School.Address; own != "" {
		return own
	}
	return k.Here(r)
}

// Here returns the address by which a browser reached this program.
func (k *Kit) Here(r *http.Request) string {
	scheme := "http"
	if k.Proxies.HTTPS(r) {
		scheme = "https"
	}
	return (&url.URL{Scheme: scheme, Host: r.Host}).String()
}

// OnlyHere reports whether an address leads a tablet nowhere: it is the machine's own
// name for itself.
func OnlyHere(base string) bool {
	u, err := url.Parse(base)
	if err != nil {
		return false
	}
	host := u.Hostname()
	ip := net.ParseIP(host)
	return host == "localhost" || strings.HasSuffix(host, ".localhost") || ip != nil && ip.IsLoopback()
}

// longestAddress bounds the school's own address, in letters.
const longestAddress = 200

// ReadAddress returns an address as a browser writes it, without what follows the
// host; empty for none.
func ReadAddress(typed string) (string, error) {
	typed = strings.TrimRight(Tidy(typed), "/")
	if typed == "" {
		return "", nil
	}
	u, err := url.Parse(typed)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Hostname() == "" || u.User != nil || u.Path != "" || u.RawQuery != "" || u.Fragment != "" ||
		strings.ContainsAny(u.Host, " <>\"") || len(typed) > longestAddress {
		return "", AskAt("address", "Write the address as a tablet's browser shows it, such as https://draw.quay.example or http://192.168.1.20:8080, without anything after it.")
	}
	return u.Scheme + "://" + u.Host, nil
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
