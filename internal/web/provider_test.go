package web

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/rsa"
	"encoding/json"
	"fmt"
	"html"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strconv"
	"sync"
	"testing"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/zitadel/oidc/v3/example/server/storage"
	"github.com/zitadel/oidc/v3/pkg/op"
)

// elsewhere is a real provider of accounts, zitadel/oidc's server with its own storage, on
// a port of its own. What it writes may be spoilt on its way, signed with its key.
type elsewhere struct {
	*storage.Storage
	*httptest.Server
	people map[string]*storage.User
	mu     sync.Mutex
	key    *rsa.PrivateKey
	keyID  int
	spoil  func(claims map[string]any) // nil for nothing
	ahead  time.Duration               // of its clock
	down   bool
}

const herPassword = "only-there-1"

// GetUserByID, GetUserByUsername and ExampleClientID are who has an account there.
func (e *elsewhere) GetUserByID(id string) *storage.User { return e.people[id] }

func (e *elsewhere) GetUserByUsername(name string) *storage.User { return e.people[name] }

func (e *elsewhere) ExampleClientID() string { return "service" }

// newElsewhere starts one that knows a program at an address.
func newElsewhere(t testing.TB, program string) *elsewhere {
	t.Helper()
	e := &elsewhere{people: map[string]*storage.User{}, Server: httptest.NewUnstartedServer(nil)}
	e.turn(t)
	e.Server.Start()
	t.Cleanup(e.Server.Close)
	e.Storage = storage.NewStorageWithClients(e, map[string]*storage.Client{"zesty": storage.WebClient("zesty", "a secret", program+"/signin/back")})
	provider, err := op.NewProvider(&op.Config{CryptoKey: [32]byte{1}, CodeMethodS256: true}, e, op.StaticIssuer(e.URL), op.WithAllowInsecure(), op.WithLogger(slog.New(slog.DiscardHandler)))
	if err != nil {
		t.Fatal(err)
	}
	routes := http.NewServeMux()
	on := op.AuthCallbackURL(provider)
	routes.HandleFunc("GET /login/username", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "text/html")
		fmt.Fprintf(w, `<form method="post"><input name="id" type="hidden" value="%s"><input id="username" name="username"><input id="password" name="password" type="password"><button>Login</button></form>`, html.EscapeString(r.FormValue("authRequestID")))
	})
	routes.HandleFunc("POST /login/username", func(w http.ResponseWriter, r *http.Request) {
		if err := e.CheckUsernamePassword(r.FormValue("username"), r.FormValue("password"), r.FormValue("id")); err != nil {
			http.Error(w, err.Error(), http.StatusForbidden)
			return
		}
		http.Redirect(w, r, on(op.ContextWithIssuer(r.Context(), e.URL), r.FormValue("id")), http.StatusFound)
	})
	routes.Handle("/", provider)
	e.Config.Handler = http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { e.answer(w, r, routes) })
	return e
}

// account gives somebody an account there.
func (e *elsewhere) account(name, email string, verified bool) {
	e.people[name] = &storage.User{ID: name, Username: name, Password: herPassword, FirstName: name, LastName: "Mole", Email: email, EmailVerified: verified}
}

// turn gives it another key.
func (e *elsewhere) turn(t testing.TB) {
	t.Helper()
	key, err := rsa.GenerateKey(rand.Reader, 2048)
	if err != nil {
		t.Fatal(err)
	}
	e.mu.Lock()
	defer e.mu.Unlock()
	e.key = key
	e.keyID++
}

func (e *elsewhere) set(spoil func(map[string]any), ahead time.Duration, down bool) {
	e.mu.Lock()
	defer e.mu.Unlock()
	e.spoil, e.ahead, e.down = spoil, ahead, down
}

// held is its key of now, as op wants it.
type held struct {
	key *rsa.PrivateKey
	id  string
}

func (h held) SignatureAlgorithm() jose.SignatureAlgorithm { return jose.RS256 }
func (h held) ID() string                                  { return h.id }
func (h held) Key() any                                    { return h.key }

type shown struct{ held }

func (s shown) Algorithm() jose.SignatureAlgorithm { return jose.RS256 }
func (s shown) Use() string                        { return "sig" }
func (s shown) Key() any                           { return &s.key.PublicKey }

func (e *elsewhere) now() held {
	e.mu.Lock()
	defer e.mu.Unlock()
	return held{e.key, "key-" + strconv.Itoa(e.keyID)}
}

func (e *elsewhere) SigningKey(context.Context) (op.SigningKey, error) { return e.now(), nil }

func (e *elsewhere) KeySet(context.Context) ([]op.Key, error) { return []op.Key{shown{e.now()}}, nil }

// mayLeave is its client, who may come back after signing out too.
type mayLeave struct {
	op.Client
	to string
}

func (m mayLeave) PostLogoutRedirectURIs() []string { return []string{m.to} }

func (e *elsewhere) GetClientByClientID(ctx context.Context, id string) (op.Client, error) {
	c, err := e.Storage.GetClientByClientID(ctx, id)
	if err != nil {
		return nil, err
	}
	back := c.RedirectURIs()[0]
	return mayLeave{c, back[:len(back)-len("/back")]}, nil
}

// answer answers as the server does, with what is spoilt.
func (e *elsewhere) answer(w http.ResponseWriter, r *http.Request, routes http.Handler) {
	e.mu.Lock()
	spoil, ahead, down := e.spoil, e.ahead, e.down
	e.mu.Unlock()
	if down {
		panic(http.ErrAbortHandler)
	}
	w.Header().Set("Date", time.Now().Add(ahead).UTC().Format(http.TimeFormat))
	if r.URL.Path != "/oauth/token" || spoil == nil {
		routes.ServeHTTP(w, r)
		return
	}
	kept := httptest.NewRecorder()
	routes.ServeHTTP(kept, r)
	body := kept.Body.Bytes()
	if kept.Code == http.StatusOK {
		body = e.spoilt(body, spoil)
	}
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(kept.Code)
	io.Copy(w, bytes.NewReader(body))
}

// spoilt changes what an answer's token says, and signs it again.
func (e *elsewhere) spoilt(body []byte, spoil func(map[string]any)) []byte {
	must := func(err error) {
		if err != nil {
			panic(err)
		}
	}
	answer, claims := map[string]any{}, map[string]any{}
	must(json.Unmarshal(body, &answer))
	signed, err := jose.ParseSignedCompact(answer["id_token"].(string), []jose.SignatureAlgorithm{jose.RS256})
	must(err)
	must(json.Unmarshal(signed.UnsafePayloadWithoutVerification(), &claims))
	spoil(claims)
	said, err := json.Marshal(claims)
	must(err)
	now := e.now()
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.RS256, Key: jose.JSONWebKey{Key: now.key, KeyID: now.id}}, nil)
	must(err)
	again, err := signer.Sign(said)
	must(err)
	answer["id_token"], err = again.CompactSerialize()
	must(err)
	body, err = json.Marshal(answer)
	must(err)
	return body
}
