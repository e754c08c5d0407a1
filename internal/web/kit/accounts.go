package kit

import (
	"encoding/json"
	"net/http"
	"time"

	"zestysketch/internal/identity"
	"zestysketch/internal/store"
)

// Errand is what a browser was sent to a provider of accounts with; its session keeps it until it is back.
type Errand struct {
	identity.Errand
	Provider uint64
	Back     string // the address that it was to come back to
	Next     string // our page that it wanted
	Trial    bool   // an administrator tries: nobody is signed in
	At       time.Time
}

// sessionErrand is where it is kept, and errandLife how long somebody may take to sign in elsewhere.
const (
	sessionErrand = "errand"
	errandLife    = 15 * time.Minute
)

// ProviderOf returns a provider as the flow knows it.
func ProviderOf(p store.IdentityProvider) identity.Provider {
	return identity.Provider{Name: p.Name, Issuer: p.Issuer, ClientID: p.ClientID, Secret: p.Secret}
}

// BackFrom returns the address that browsers come back to from providers.
func (k *Kit) BackFrom(r *http.Request) string { return k.Here(r) + "/signin/back" }

// SendOut sends a browser to sign in by an account elsewhere.
func (k *Kit) SendOut(w http.ResponseWriter, r *http.Request, p store.IdentityProvider, e Errand) (err error) {
	e.Provider, e.Back, e.At = p.ID, k.BackFrom(r), time.Now()
	var address string
	if e.Errand, address, err = k.Accounts.Begin(r.Context(), ProviderOf(p), e.Back); err != nil {
		return err
	}
	kept, err := json.Marshal(e)
	if err != nil {
		return err
	}
	k.Sessions.Put(r.Context(), sessionErrand, string(kept))
	http.Redirect(w, r, address, http.StatusSeeOther)
	return nil
}

// TakeErrand returns, once, what the browser was sent out with; none for whom it was too long ago.
func (k *Kit) TakeErrand(r *http.Request) (e Errand) {
	kept := k.Sessions.PopString(r.Context(), sessionErrand)
	if json.Unmarshal([]byte(kept), &e) != nil || time.Since(e.At) > errandLife {
		return Errand{}
	}
	return e
}
