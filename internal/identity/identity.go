// Package identity lets people be known by accounts that their school has elsewhere:
// OpenID Connect's authorization code flow (OpenID Connect Core 1.0) with proof of
// possession (PKCE, RFC 7636). It keeps nothing but what providers publish.
package identity

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"golang.org/x/oauth2"
)

// Provider is where a school has its accounts, and how this program is known there.
type Provider struct {
	Name             string // as people know it
	Issuer           string // its address, as it writes it itself
	ClientID, Secret string
}

// Errand is what a browser was sent to a provider with; it is kept in its session.
type Errand struct {
	State, Nonce, Verifier string
}

// Person is what a provider says of who signed in.
type Person struct {
	Subject, Email, Name string
	Verified             bool // the e-mail, by the provider
	SecondStep           bool // the provider has asked for more than a password
	claims               map[string]any
}

// Trouble is why somebody could not be known, in words for them.
type Trouble struct {
	Words string
	Err   error
}

func (t Trouble) Error() string { return t.Words }

func (t Trouble) Unwrap() error { return t.Err }

// How long providers are waited for, how much an answer holds, and how long what they publish is believed (ours).
const (
	patience   = 10 * time.Second
	mostAnswer = 1 << 20
	publishes  = time.Hour
)

// mostSkew is by how much two clocks may differ before tokens are not believed, in OpenID
// Connect's common practice five minutes.
const mostSkew = 5 * time.Minute

// Providers remembers what each publishes of itself. It is safe for use by many goroutines.
type Providers struct {
	mu    sync.Mutex
	known map[string]published
}

// published is what a provider says of itself.
type published struct {
	*oidc.Provider
	Leave string `json:"end_session_endpoint"`
	Keys  string `json:"jwks_uri"`
	until time.Time
	skew  time.Duration // of its clock, ahead of ours
}

// CheckIssuer says what is wrong with an issuer's address: http is for this machine alone.
func CheckIssuer(address string) error {
	u, err := url.Parse(address)
	if err != nil || u.Host == "" || u.RawQuery != "" || u.Fragment != "" {
		return fmt.Errorf("wanted an address such as https://accounts.example, got %q", address)
	}
	here := u.Hostname() == "localhost" || u.Hostname() == "127.0.0.1" || u.Hostname() == "::1"
	if u.Scheme != "https" && !(u.Scheme == "http" && here) {
		return fmt.Errorf("wanted https://, got %q", address)
	}
	return nil
}

// find returns what a provider publishes, asked again after a while.
func (ps *Providers) find(ctx context.Context, p Provider) (published, error) {
	ps.mu.Lock()
	is, ok := ps.known[p.Issuer]
	ps.mu.Unlock()
	if ok && time.Now().Before(is.until) {
		return is, nil
	}
	is, err := discover(p)
	if err != nil {
		return is, err
	}
	ps.mu.Lock()
	defer ps.mu.Unlock()
	if ps.known == nil {
		ps.known = map[string]published{}
	}
	ps.known[p.Issuer] = is
	return is, ctx.Err()
}

// discover asks a provider who it is. Its keys are asked for by the same client later, so
// no request's end ends it.
func discover(p Provider) (is published, err error) {
	if err := CheckIssuer(p.Issuer); err != nil {
		return is, Trouble{"The issuer's address: " + err.Error() + ".", err}
	}
	answers := &dated{}
	is.Provider, err = oidc.NewProvider(oidc.ClientContext(context.Background(), client(answers)), p.Issuer)
	var other *oidc.IssuerMismatchError
	switch {
	case errors.As(err, &other):
		return is, Trouble{fmt.Sprintf("At %s somebody answers who is called %s. Write the issuer as it writes itself.", p.Issuer, other.Discovered), err}
	case err != nil && answers.at.IsZero():
		return is, Trouble{fmt.Sprintf("%s does not answer at %s. Try again in a minute; if it stays so, see whether this computer reaches it.", p.Name, p.Issuer), err}
	case err != nil:
		return is, Trouble{fmt.Sprintf("%s answers, but there is no OpenID Connect at %s. Is the issuer's address whole?", p.Name, p.Issuer), err}
	}
	is.until, is.skew = time.Now().Add(publishes), answers.skew()
	return is, is.Claims(&is)
}

func (is published) config(p Provider, back string) oauth2.Config {
	return oauth2.Config{ClientID: p.ClientID, ClientSecret: p.Secret, Endpoint: is.Endpoint(), RedirectURL: back, Scopes: []string{oidc.ScopeOpenID, "email", "profile"}}
}

// Begin returns where a browser is sent to sign in, and with which errand: it comes back
// to the address back.
func (ps *Providers) Begin(ctx context.Context, p Provider, back string) (Errand, string, error) {
	is, err := ps.find(ctx, p)
	if err != nil {
		return Errand{}, "", err
	}
	e := Errand{State: oauth2.GenerateVerifier(), Nonce: oauth2.GenerateVerifier(), Verifier: oauth2.GenerateVerifier()}
	c := is.config(p, back)
	return e, c.AuthCodeURL(e.State, oidc.Nonce(e.Nonce), oauth2.S256ChallengeOption(e.Verifier)), nil
}

// End returns who came back from a provider with the answer, for the errand they were sent with.
// The error is a Trouble for whatever the provider or the browser may have got wrong.
func (ps *Providers) End(ctx context.Context, p Provider, back string, e Errand, answer url.Values) (Person, error) {
	if e.State == "" || answer.Get("state") != e.State {
		return Person{}, Trouble{"This way in was used already, or it was begun in another browser. Begin again.", nil}
	}
	if code := answer.Get("error"); code != "" {
		return Person{}, Trouble{refusal(p, code, answer.Get("error_description")), errors.New(code)}
	}
	is, err := ps.find(ctx, p)
	if err != nil {
		return Person{}, err
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	answers := &dated{}
	ctx = oidc.ClientContext(ctx, client(answers))
	c := is.config(p, back)
	token, err := c.Exchange(ctx, answer.Get("code"), oauth2.VerifierOption(e.Verifier))
	if err != nil {
		return Person{}, exchangeTrouble(p, err)
	}
	raw, _ := token.Extra("id_token").(string)
	id, err := is.Verifier(&oidc.Config{ClientID: p.ClientID}).Verify(ctx, raw)
	if skew := answers.skew(); skew.Abs() > mostSkew {
		return Person{}, skewTrouble(p, skew)
	}
	if err != nil {
		return Person{}, tokenTrouble(p, err)
	}
	if id.Nonce != e.Nonce {
		return Person{}, Trouble{p.Name + " answered another question than this program asked. Begin again.", nil}
	}
	return is.person(ctx, id, token)
}

// person returns who a token is of; what it does not say of their e-mail the provider is asked for.
func (is published) person(ctx context.Context, id *oidc.IDToken, token *oauth2.Token) (Person, error) {
	claims := map[string]any{}
	if err := id.Claims(&claims); err != nil {
		return Person{}, Trouble{"What the provider says of this account cannot be read.", err}
	}
	if claims["email"] == nil && is.UserInfoEndpoint() != "" {
		info, err := is.UserInfo(ctx, oauth2.StaticTokenSource(token))
		if err == nil && info.Subject != id.Subject {
			err = errors.New("another subject")
		}
		more := map[string]any{}
		if err == nil {
			err = info.Claims(&more)
		}
		if err != nil {
			return Person{}, Trouble{"The provider does not say which e-mail this account has.", err}
		}
		for name, value := range more {
			if claims[name] == nil {
				claims[name] = value
			}
		}
	}
	words := func(name string) string { s, _ := claims[name].(string); return strings.TrimSpace(s) }
	return Person{Subject: id.Subject, Email: words("email"), Name: words("name"), Verified: fmt.Sprint(claims["email_verified"]) == "true",
		SecondStep: askedTwice(claims), claims: claims}, nil
}

// Has reports whether a claim is a value, or a list with it.
func (p Person) Has(claim, value string) bool {
	if claim == "" || value == "" {
		return false
	}
	list, ok := p.claims[claim].([]any)
	if !ok {
		list = []any{p.claims[claim]}
	}
	return slices.ContainsFunc(list, func(v any) bool { return v != nil && fmt.Sprint(v) == value })
}

// Ways of proving who one is that are more than a password, by RFC 8176, and levels that
// ask for them, by OpenID's Extended Authentication Profile.
var (
	strongWays   = []string{"mfa", "otp", "hwk", "swk", "sc", "fpt", "face", "iris", "retina", "vbm", "sms", "tel"}
	strongLevels = []string{"phr", "phrh", "http://schemas.openid.net/pape/policies/2007/06/multi-factor"}
)

func askedTwice(claims map[string]any) bool {
	p := Person{claims: claims}
	return slices.ContainsFunc(strongWays, func(w string) bool { return p.Has("amr", w) }) ||
		slices.ContainsFunc(strongLevels, func(l string) bool { return p.Has("acr", l) })
}

// Leave returns where somebody signs out of a provider, to come to the address after; empty
// where it offers none, or does not answer.
func (ps *Providers) Leave(ctx context.Context, p Provider, after string) string {
	is, err := ps.find(ctx, p)
	u, wrong := url.Parse(is.Leave)
	if err != nil || wrong != nil || is.Leave == "" {
		return ""
	}
	q := u.Query()
	q.Set("client_id", p.ClientID)
	q.Set("post_logout_redirect_uri", after)
	u.RawQuery = q.Encode()
	return u.String()
}

// readable is what of a provider's answer is needed to say why it refused.
func readable(err *oauth2.RetrieveError) string {
	var said struct {
		Error string `json:"error"`
	}
	if json.Unmarshal(err.Body, &said) == nil && said.Error != "" {
		return said.Error
	}
	return http.StatusText(err.Response.StatusCode)
}
