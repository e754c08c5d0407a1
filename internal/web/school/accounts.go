package school

import (
	"errors"
	"net/http"
	"strconv"
	"strings"
	"unicode/utf8"

	"zestysketch/internal/identity"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// accountsView is the page of where the school has accounts of its teachers.
type accountsView struct {
	Tabs      kit.Tabs
	Providers []store.IdentityProvider
	Back      string // the address that is registered there
	Only      bool
	MayOnly   bool // who asks came by such an account: it works
	Looked    uint64
	Seen      []identity.Seen
}

func (a area) accountsView(r *http.Request) (v accountsView, err error) {
	me := kit.Teacher(r)
	v = accountsView{Tabs: tabs("/school/accounts"), Back: a.BackFrom(r), Only: me.School.AccountsOnly, MayOnly: kit.ByAccount(r)}
	v.Providers, err = a.Store.IdentityProviders(r.Context(), me.SchoolID)
	return v, err
}

func (a area) accounts(w http.ResponseWriter, r *http.Request) error {
	v, err := a.accountsView(r)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "accounts.html", "Accounts", v)
}

// provider returns the school's provider in the address.
func (a area) provider(r *http.Request) (store.IdentityProvider, error) {
	id, err := kit.ID(r, "provider")
	if err != nil {
		return store.IdentityProvider{}, err
	}
	return a.Store.IdentityProvider(r.Context(), kit.Teacher(r).SchoolID, id)
}

// look shows what can be told of a provider without a person.
func (a area) look(w http.ResponseWriter, r *http.Request, p store.IdentityProvider) error {
	v, err := a.accountsView(r)
	if err != nil {
		return err
	}
	v.Looked, v.Seen = p.ID, a.Accounts.Look(r.Context(), kit.ProviderOf(p), a.BackFrom(r))
	return pages.Whole(w, r, "accounts.html", "Accounts", v)
}

// trial sends the administrator there, to see what would become of an account.
func (a area) trial(w http.ResponseWriter, r *http.Request, p store.IdentityProvider) error {
	err := a.SendOut(w, r, p, kit.Errand{Trial: true})
	if trouble := (identity.Trouble{}); errors.As(err, &trouble) {
		return kit.Ask("%s", trouble.Words)
	}
	return err
}

// How long what is written of a provider may be, in letters: as the table has room.
const longestName, longestIssuer, longestClient, longestSecret, longestDomains, longestClaim = 60, 300, 200, 500, 1000, 100

func (a area) keepAccounts(w http.ResponseWriter, r *http.Request) error {
	p, err := readProvider(r)
	if err != nil {
		return err
	}
	p.SchoolID = kit.Teacher(r).SchoolID
	if p, err = a.Store.KeepIdentityProvider(r.Context(), p); err != nil {
		return err
	}
	return kit.Go(w, r, "/school/accounts/"+strconv.FormatUint(p.ID, 10)+"/look")
}

// readProvider reads what was typed of a provider; ID 0 is a new one.
func readProvider(r *http.Request) (p store.IdentityProvider, err error) {
	p = store.IdentityProvider{Name: kit.Tidy(r.FormValue("name")), Issuer: kit.Tidy(r.FormValue("issuer")), ClientID: kit.Tidy(r.FormValue("client")),
		Secret: strings.TrimSpace(r.FormValue("secret")), Domains: kit.Tidy(r.FormValue("domains"))}
	if id := r.FormValue("id"); id != "" {
		if p.ID, err = strconv.ParseUint(id, 10, 63); err != nil {
			return p, store.ErrNotFound
		}
	}
	admin := kit.Tidy(r.FormValue("admin"))
	claim, value, ok := strings.Cut(admin, "=")
	p.AdminClaim, p.AdminValue = strings.TrimSpace(claim), strings.TrimSpace(value)
	for _, f := range []struct {
		field, typed, wanted string
		least, most          int
	}{
		{"name", p.Name, "a name that teachers know, such as Quay accounts", 1, longestName},
		{"client", p.ClientID, "the client ID that was given to this program there", 1, longestClient},
		{"secret", p.Secret, "the secret", 0, longestSecret},
		{"domains", p.Domains, "domains, such as quay.example", 0, longestDomains},
		{"admin", p.AdminClaim, "a claim and its value", 0, longestClaim},
		{"admin", p.AdminValue, "a claim and its value", 0, longestClient},
	} {
		if n := utf8.RuneCountInString(f.typed); n < f.least || n > f.most {
			return p, kit.AskAt(f.field, "Wanted: %s, of %d to %d letters; there are %d.", f.wanted, f.least, f.most, n)
		}
	}
	if err := identity.CheckIssuer(p.Issuer); err != nil || len(p.Issuer) > longestIssuer {
		return p, kit.AskAt("issuer", "Wanted: the issuer's address as it writes it, such as https://accounts.quay.example.")
	}
	if admin != "" && (!ok || p.AdminClaim == "" || p.AdminValue == "") {
		return p, kit.AskAt("admin", "Wanted: a claim and its value, such as groups=drawing-admins; there is %q.", admin)
	}
	for _, d := range p.DomainList() {
		if !strings.Contains(d, ".") || strings.ContainsAny(d, "@/:*") {
			return p, kit.AskAt("domains", "Wanted: domains such as quay.example; %q is none.", d)
		}
	}
	return p, nil
}

func (a area) dropAccounts(w http.ResponseWriter, r *http.Request, p store.IdentityProvider) error {
	if err := a.Store.DropIdentityProvider(r.Context(), p.SchoolID, p.ID); err != nil {
		return err
	}
	return kit.Go(w, r, "/school/accounts")
}

// accountsOnly ends passwords, or lets them in again. Only who came by an account may end them: so it
// is known to work.
func (a area) accountsOnly(w http.ResponseWriter, r *http.Request) error {
	only := r.FormValue("on") == "1"
	if only && !kit.ByAccount(r) {
		return kit.Ask("Sign in by such an account first: then it is known to work, and nobody is shut out.")
	}
	if err := a.Store.SetAccountsOnly(r.Context(), kit.Teacher(r).SchoolID, only); err != nil {
		return err
	}
	return kit.Go(w, r, "/school/accounts")
}
