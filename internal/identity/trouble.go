package identity

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"golang.org/x/oauth2"

	"zestysketch/internal/letters"
)

// longestSaid bounds what is repeated of a provider's own words, in letters.
const longestSaid = 200

// refusal says why a provider let nobody in, with its own words.
func refusal(p Provider, code, said string) string {
	switch code {
	case "access_denied":
		return fmt.Sprintf("%s did not let this account in. Try again, or ask whoever keeps it.", p.Name)
	case "login_required", "interaction_required", "consent_required":
		return fmt.Sprintf("%s wants you to sign in there first. Begin again.", p.Name)
	case "server_error", "temporarily_unavailable":
		return fmt.Sprintf("%s has trouble of its own. Try again in a minute.", p.Name)
	}
	return letters.Cut(strings.TrimSpace(fmt.Sprintf("%s refused: %s %s", p.Name, code, said)), longestSaid)
}

// exchangeTrouble says why the code that a browser brought was worth nothing.
func exchangeTrouble(p Provider, err error) error {
	var refused *oauth2.RetrieveError
	if !errors.As(err, &refused) {
		return Trouble{p.Name + " does not answer. Try again in a minute.", err}
	}
	switch code := readable(refused); code {
	case "invalid_client", "unauthorized_client", http.StatusText(http.StatusUnauthorized):
		return Trouble{fmt.Sprintf("%s does not know this program: its client ID or secret is another one. An administrator writes them anew, under School.", p.Name), err}
	case "invalid_grant":
		return Trouble{"This way in was used already, or took too long. Begin again.", err}
	default:
		return Trouble{refusal(p, code, ""), err}
	}
}

// tokenTrouble says why what a provider wrote is not believed.
func tokenTrouble(p Provider, err error) error {
	var expired *oidc.TokenExpiredError
	if errors.As(err, &expired) {
		return Trouble{fmt.Sprintf("What %s wrote was over at %s UTC. Begin again; if it stays so, one of the two clocks is wrong.", p.Name, expired.Expiry.UTC().Format("15:04")), err}
	}
	return Trouble{fmt.Sprintf("What %s wrote is not for this program, or not from it. Nobody was let in.", p.Name), err}
}

func skewTrouble(p Provider, skew time.Duration) error {
	return Trouble{fmt.Sprintf("The clocks of this program and of %s differ by %d minutes. Let both keep the time by a time server.", p.Name, int(skew.Abs().Minutes()+0.5)), nil}
}

// dated remembers what the clock of who answers shows, beside ours.
type dated struct {
	mu   sync.Mutex
	at   time.Time // ours
	date time.Time // theirs, to the second
}

func (d *dated) RoundTrip(r *http.Request) (*http.Response, error) {
	answer, err := http.DefaultTransport.RoundTrip(r)
	if err != nil {
		return nil, err
	}
	answer.Body = struct {
		io.Reader
		io.Closer
	}{io.LimitReader(answer.Body, mostAnswer), answer.Body}
	d.mu.Lock()
	defer d.mu.Unlock()
	d.at = time.Now()
	d.date, _ = http.ParseTime(answer.Header.Get("Date"))
	return answer, nil
}

// skew is by how much the other clock is ahead; 0 where it is not known.
func (d *dated) skew() time.Duration {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.at.IsZero() || d.date.IsZero() {
		return 0
	}
	return d.date.Sub(d.at).Round(time.Second)
}

func client(answers *dated) *http.Client { return &http.Client{Transport: answers, Timeout: patience} }
