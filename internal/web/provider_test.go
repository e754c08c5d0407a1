package web

import (
	"bufio"
	"bytes"
	"context"
	"crypto/rand"
	"crypto/rsa"
	"encoding/json"
	"fmt"
	"html"
	"io"
	"log"
	"log/slog"
	"maps"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"strconv"
	"sync"
	"testing"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/zitadel/oidc/v3/example/server/storage"
	"github.com/zitadel/oidc/v3/pkg/op"
)

// elsewhere is a real provider of accounts as a process of its own: zitadel/oidc's server with its
// own storage, told over its input what it is to know and to get wrong.
type elsewhere struct {
	t   testing.TB
	URL string
	in  *json.Encoder
	out *bufio.Scanner
	told
}

// told is what a provider is told, whole each time.
type told struct {
	People map[string]*storage.User
	Claims map[string]any // that its tokens are to say instead of its own, signed with its key
	Ahead  time.Duration  // of its clock
	Down   bool
	Key    int // the number of the key that it signs with
}

const herPassword = "only-there-1"

// envProvider makes the test's program a provider, for the program at the address that it names.
const envProvider = "ZESTY_TEST_PROVIDER"

// newElsewhere starts one that knows a program at an address.
func newElsewhere(t testing.TB, program string) *elsewhere {
	t.Helper()
	cmd := exec.Command(os.Args[0])
	cmd.Env = append(os.Environ(), envProvider+"="+program)
	cmd.Stderr = os.Stderr
	in := must(cmd.StdinPipe())
	out := must(cmd.StdoutPipe())
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		in.Close() // which ends it
		if err := cmd.Wait(); err != nil {
			t.Error(err)
		}
	})
	e := &elsewhere{t: t, in: json.NewEncoder(in), out: bufio.NewScanner(out), told: told{People: map[string]*storage.User{}, Key: 1}}
	e.URL = e.hear()
	e.tell()
	return e
}

// hear returns what it says next.
func (e *elsewhere) hear() string {
	e.t.Helper()
	if !e.out.Scan() {
		e.t.Fatal("the provider of accounts ended", e.out.Err())
	}
	return e.out.Text()
}

// tell tells it what changed, and waits until it knows.
func (e *elsewhere) tell() {
	e.t.Helper()
	if err := e.in.Encode(e.told); err != nil {
		e.t.Fatal(err)
	}
	e.hear()
}

// account gives somebody an account there.
func (e *elsewhere) account(name, email string, verified bool) {
	e.t.Helper()
	e.People[name] = &storage.User{ID: name, Username: name, Password: herPassword, FirstName: name, LastName: "Mole", Email: email, EmailVerified: verified}
	e.tell()
}

// turn gives it another key.
func (e *elsewhere) turn() {
	e.t.Helper()
	e.Key++
	e.tell()
}

// set has it say some claims instead of its own, by a clock that is ahead, or not answer at all.
func (e *elsewhere) set(claims map[string]any, ahead time.Duration, down bool) {
	e.t.Helper()
	e.Claims, e.Ahead, e.Down = claims, ahead, down
	e.tell()
}

// provider is the other side: the process.
type provider struct {
	*storage.Storage
	mu sync.Mutex
	told
	keys map[int]*rsa.PrivateKey
}

// provide answers as a provider until its input ends.
func provide(program string) {
	p := &provider{keys: map[int]*rsa.PrivateKey{}}
	p.Storage = storage.NewStorageWithClients(p, map[string]*storage.Client{"zesty": storage.WebClient("zesty", "a secret", program+"/signin/back")})
	l := must(net.Listen("tcp", "127.0.0.1:0"))
	issuer := "http://" + l.Addr().String()
	server := must(op.NewProvider(&op.Config{CryptoKey: [32]byte{1}, CodeMethodS256: true}, p, op.StaticIssuer(issuer), op.WithAllowInsecure(), op.WithLogger(slog.New(slog.DiscardHandler))))
	routes := http.NewServeMux()
	on := op.AuthCallbackURL(server)
	routes.HandleFunc("GET /login/username", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "text/html")
		fmt.Fprintf(w, `<form method="post"><input name="id" type="hidden" value="%s"><input id="username" name="username"><input id="password" name="password" type="password"><button>Login</button></form>`, html.EscapeString(r.FormValue("authRequestID")))
	})
	routes.HandleFunc("POST /login/username", func(w http.ResponseWriter, r *http.Request) {
		if err := p.CheckUsernamePassword(r.FormValue("username"), r.FormValue("password"), r.FormValue("id")); err != nil {
			http.Error(w, err.Error(), http.StatusForbidden)
			return
		}
		http.Redirect(w, r, on(op.ContextWithIssuer(r.Context(), issuer), r.FormValue("id")), http.StatusFound)
	})
	routes.Handle("/", server)
	logged := log.New(io.Discard, "", 0) // it is to break off, which net/http would tell
	go (&http.Server{ErrorLog: logged, Handler: http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { p.answer(w, r, routes) })}).Serve(l)
	fmt.Println(issuer)
	for said := json.NewDecoder(os.Stdin); ; {
		var next told
		if err := said.Decode(&next); err != nil {
			return
		}
		p.mu.Lock()
		p.told = next
		if p.keys[next.Key] == nil {
			p.keys[next.Key] = must(rsa.GenerateKey(rand.Reader, 2048))
		}
		p.mu.Unlock()
		fmt.Println("heard")
	}
}

// GetUserByID, GetUserByUsername and ExampleClientID are who has an account there.
func (p *provider) GetUserByID(id string) *storage.User { return p.heard().People[id] }

func (p *provider) GetUserByUsername(name string) *storage.User { return p.heard().People[name] }

func (p *provider) ExampleClientID() string { return "service" }

func (p *provider) heard() told {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.told
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

func (p *provider) now() held {
	p.mu.Lock()
	defer p.mu.Unlock()
	return held{p.keys[p.Key], "key-" + strconv.Itoa(p.Key)}
}

func (p *provider) SigningKey(context.Context) (op.SigningKey, error) { return p.now(), nil }

func (p *provider) KeySet(context.Context) ([]op.Key, error) { return []op.Key{shown{p.now()}}, nil }

// mayLeave is its client, who may come back after signing out too.
type mayLeave struct {
	op.Client
	to string
}

func (m mayLeave) PostLogoutRedirectURIs() []string { return []string{m.to} }

func (p *provider) GetClientByClientID(ctx context.Context, id string) (op.Client, error) {
	c, err := p.Storage.GetClientByClientID(ctx, id)
	if err != nil {
		return nil, err
	}
	back := c.RedirectURIs()[0]
	return mayLeave{c, back[:len(back)-len("/back")]}, nil
}

// answer answers as the server does, with what is spoilt.
func (p *provider) answer(w http.ResponseWriter, r *http.Request, routes http.Handler) {
	now := p.heard()
	if now.Down {
		panic(http.ErrAbortHandler)
	}
	w.Header().Set("Date", time.Now().Add(now.Ahead).UTC().Format(http.TimeFormat))
	if r.URL.Path != "/oauth/token" || now.Claims == nil {
		routes.ServeHTTP(w, r)
		return
	}
	kept := httptest.NewRecorder()
	routes.ServeHTTP(kept, r)
	body := kept.Body.Bytes()
	if kept.Code == http.StatusOK {
		body = p.spoilt(body, now.Claims)
	}
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(kept.Code)
	io.Copy(w, bytes.NewReader(body))
}

// spoilt changes what an answer's token says, and signs it again.
func (p *provider) spoilt(body []byte, instead map[string]any) []byte {
	answer, claims := map[string]any{}, map[string]any{}
	check(json.Unmarshal(body, &answer))
	signed := must(jose.ParseSignedCompact(answer["id_token"].(string), []jose.SignatureAlgorithm{jose.RS256}))
	check(json.Unmarshal(signed.UnsafePayloadWithoutVerification(), &claims))
	maps.Copy(claims, instead)
	now := p.now()
	signer := must(jose.NewSigner(jose.SigningKey{Algorithm: jose.RS256, Key: jose.JSONWebKey{Key: now.key, KeyID: now.id}}, nil))
	again := must(signer.Sign(must(json.Marshal(claims))))
	answer["id_token"] = must(again.CompactSerialize())
	return must(json.Marshal(answer))
}

func check(err error) {
	if err != nil {
		panic(err)
	}
}
