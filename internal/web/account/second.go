package account

import (
	"errors"
	"html/template"
	"net/http"
	"net/url"
	"strings"
	"time"

	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// secondView is the page on which a teacher's second step is set up.
type secondView struct {
	Secret  string
	Letters string        // the secret as one types it, in fours
	QR      template.HTML // of the key's address
	Wrong   string
	Words   []string // what was made, shown once
}

// second shows a fresh key; nothing is kept before a code of it was shown.
func (a area) second(w http.ResponseWriter, r *http.Request) error {
	key, err := store.NewSecond(kit.Teacher(r))
	if err != nil {
		return err
	}
	return a.showKey(w, r, key.Secret(), "")
}

func (a area) showKey(w http.ResponseWriter, r *http.Request, secret, wrong string) error {
	v := secondView{Secret: secret, Letters: fours(secret), Wrong: wrong}
	svg, err := render.QR("otpauth://totp/" + url.PathEscape("Zesty Sketch:"+kit.Teacher(r).Email) + "?" +
		url.Values{"secret": {secret}, "issuer": {"Zesty Sketch"}}.Encode())
	if err != nil {
		return err
	}
	v.QR = template.HTML(svg) // drawn by package render
	status := http.StatusOK
	if wrong != "" {
		status = http.StatusUnprocessableEntity
	}
	return pages.WholeStatus(w, r, "second.html", "A code when signing in", status, v)
}

func fours(secret string) string {
	var parts []string
	for ; len(secret) > 4; secret = secret[4:] {
		parts = append(parts, secret[:4])
	}
	return strings.Join(append(parts, secret), " ")
}

// keepSecond keeps the key once its code was shown, and shows the words.
func (a area) keepSecond(w http.ResponseWriter, r *http.Request) error {
	secret := r.FormValue("secret")
	if len(secret) < 16 || len(secret) > 64 {
		return kit.Ask("Begin again from your account: the key did not arrive whole.")
	}
	if err := a.proved(r, r.FormValue("old")); err != nil {
		trouble := kit.Trouble{}
		if errors.As(err, &trouble) {
			return a.showKey(w, r, secret, trouble.Message)
		}
		return err
	}
	words, err := a.Store.SetSecond(r.Context(), kit.Teacher(r).ID, secret, kit.Tidy(r.FormValue("code")), time.Now())
	if errors.Is(err, store.ErrNotFound) {
		return a.showKey(w, r, secret, "That was not the code of now. Wait for the next one and write it; if it fails again, look at the clock of your device.")
	}
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "second.html", "A code when signing in", secondView{Words: words})
}

// endSecond takes the second step away, by the password.
func (a area) endSecond(w http.ResponseWriter, r *http.Request) error {
	if err := a.proved(r, r.FormValue("old")); err != nil {
		return err
	}
	if err := a.Store.EndSecond(r.Context(), kit.Teacher(r).ID); err != nil {
		return err
	}
	return kit.Go(w, r, "/account?done=person")
}
