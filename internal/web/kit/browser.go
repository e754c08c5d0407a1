package kit

import (
	"crypto/subtle"
	"fmt"
	"math/rand/v2"
	"net/http"
	"strings"
	"time"
)

// A browser on which a teacher has signed in before is known by a cookie. Its wrong
// tries are its own: a school that comes by one address is not shut out by somebody
// in it who guesses, nor a teacher by somebody elsewhere who guesses at their account.
const (
	knownCookie = "zesty-known"
	knownFor    = 400 * 24 * time.Hour
)

// Suspects returns by what a try to sign in as somebody is slowed: by the browser
// where it is known, else by the account and the address.
func (k *Kit) Suspects(r *http.Request, email string) []string {
	email = strings.ToLower(strings.TrimSpace(email))
	if number, known := k.knownBrowser(r, email); known {
		return []string{fmt.Sprintf("browser %d of %s", number, email)}
	}
	return []string{Account(email), k.AddressOf(r)}
}

// Account and AddressOf name by what tries are counted.
func Account(email string) string               { return "account " + email }
func (k *Kit) AddressOf(r *http.Request) string { return "address " + k.Proxies.From(r) }

func (k *Kit) knownBrowser(r *http.Request, email string) (number uint64, known bool) {
	c, err := r.Cookie(knownCookie)
	if err != nil {
		return 0, false
	}
	var mark string
	if _, err := fmt.Sscanf(c.Value, "%d.%s", &number, &mark); err != nil {
		return 0, false
	}
	want, err := k.Store.BrowserMark(r.Context(), email, number)
	return number, err == nil && subtle.ConstantTimeCompare([]byte(want), []byte(mark)) == 1
}

// KnowBrowser lets the browser be known from now on.
func (k *Kit) KnowBrowser(w http.ResponseWriter, r *http.Request, email string) error {
	number := rand.Uint64()
	mark, err := k.Store.BrowserMark(r.Context(), email, number)
	if err != nil {
		return err
	}
	http.SetCookie(w, &http.Cookie{Name: knownCookie, Value: fmt.Sprintf("%d.%s", number, mark), Path: "/", MaxAge: int(knownFor / time.Second),
		HttpOnly: true, Secure: k.Sessions.Cookie.Secure, SameSite: http.SameSiteLaxMode})
	return nil
}
