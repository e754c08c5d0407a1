package kit

import (
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
	"fmt"
	"math/rand/v2"
	"net/http"
	"strings"
	"time"

	"zestysketch/internal/store"
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
func Account(email string) string { return "account " + email }

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

// secondStepLife is how long somebody has for the second step after the first.
const secondStepLife = 10 * time.Minute

// AwaitSecondStep keeps that a teacher's password, or account elsewhere, was right, and their code is to come.
func (k *Kit) AwaitSecondStep(r *http.Request, t store.Teacher, by store.IdentityProvider, now time.Time) error {
	if err := k.Sessions.RenewToken(r.Context()); err != nil {
		return err
	}
	k.Sessions.Put(r.Context(), sessionSecond, int64(t.ID))
	k.Sessions.Put(r.Context(), sessionSecondAt, now.Unix())
	k.Sessions.Put(r.Context(), sessionSecondOf, sumOf(t.PasswordHash))
	k.Sessions.Put(r.Context(), sessionSecondBy, int64(by.ID))
	return nil
}

// AwaitingSecondStep returns the teacher whose code is to come, and by which account they are here; ErrNotFound for nobody,
// too late, or where the password is another since.
func (k *Kit) AwaitingSecondStep(r *http.Request, now time.Time) (t store.Teacher, by store.IdentityProvider, err error) {
	id := k.Sessions.GetInt64(r.Context(), sessionSecond)
	if id <= 0 || now.Unix()-k.Sessions.GetInt64(r.Context(), sessionSecondAt) > int64(secondStepLife.Seconds()) {
		return t, by, store.ErrNotFound
	}
	t, err = k.Store.Teacher(r.Context(), uint64(id))
	if err == nil && (t.DisabledAt != nil || t.SecondSecret == "" || k.Sessions.GetString(r.Context(), sessionSecondOf) != sumOf(t.PasswordHash)) {
		err = store.ErrNotFound
	}
	if p := k.Sessions.GetInt64(r.Context(), sessionSecondBy); err == nil && p > 0 {
		by, err = k.Store.IdentityProvider(r.Context(), t.SchoolID, uint64(p))
	}
	return t, by, err
}

// sumOf returns what tells a password's hash from another's, and not what it is.
func sumOf(hash string) string {
	sum := sha256.Sum256([]byte(hash))
	return hex.EncodeToString(sum[:8])
}

// browserOf says in a few words what a browser says of itself, for somebody to
// know their own again; it is not relied on.
func browserOf(agent string) string {
	pick := func(words ...string) string {
		for i := 0; i+1 < len(words); i += 2 {
			if strings.Contains(agent, words[i]) {
				return words[i+1]
			}
		}
		return ""
	}
	program := pick("Edg/", "Edge", "Firefox/", "Firefox", "Chrome/", "Chrome", "Safari/", "Safari")
	machine := pick("iPad", "iPad", "iPhone", "iPhone", "Android", "Android", "CrOS", "Chromebook", "Windows", "Windows", "Macintosh", "Mac", "Linux", "Linux")
	switch {
	case program == "" && machine == "":
		return "another program"
	case program == "" || machine == "":
		return program + machine
	}
	return program + " on " + machine
}
