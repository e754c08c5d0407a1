package identity

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
)

// Seen is one thing that was looked at, and how it stands.
type Seen struct {
	Good  bool
	Words string
}

// Look tries a provider as far as that goes without a person: whether it answers, what its
// clock shows, whether it has keys, and whether it knows this program and the address back.
func (ps *Providers) Look(ctx context.Context, p Provider, back string) (list []Seen) {
	is, err := discover(p)
	if err != nil {
		return []Seen{{false, words(err)}}
	}
	list = append(list, Seen{true, p.Name + " answers."})
	if is.skew.Abs() > mostSkew {
		list = append(list, Seen{false, words(skewTrouble(p, is.skew))})
	} else {
		list = append(list, Seen{true, "Its clock and ours agree."})
	}
	list = append(list, is.keys(ctx), is.knows(ctx, p, back))
	return list
}

func words(err error) string {
	if t := (Trouble{}); errors.As(err, &t) {
		return t.Words
	}
	return err.Error()
}

// keys looks whether there are keys to know the provider's writing by.
func (is published) keys(ctx context.Context) Seen {
	var set struct {
		Keys []json.RawMessage `json:"keys"`
	}
	body, status, err := get(ctx, is.Keys, client(&dated{}))
	if err != nil || status != http.StatusOK || json.Unmarshal(body, &set) != nil || len(set.Keys) == 0 {
		return Seen{false, fmt.Sprintf("Its keys are not at %s, where it says they are.", is.Keys)}
	}
	return Seen{true, "Its keys can be read."}
}

// knows looks whether the provider takes this program and the address to come back to: it
// would show its page, or send on to it.
func (is published) knows(ctx context.Context, p Provider, back string) Seen {
	c := is.config(p, back)
	once := client(&dated{})
	once.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	_, status, err := get(ctx, c.AuthCodeURL("look"), once)
	switch {
	case err != nil:
		return Seen{false, p.Name + "'s page to sign in does not answer."}
	case status >= http.StatusBadRequest:
		return Seen{false, fmt.Sprintf("%s refuses this program (%d). Look there whether the client ID is %s and the redirect address %s, letter by letter.", p.Name, status, p.ClientID, back)}
	}
	return Seen{true, "It knows this program and the address to come back to."}
}

func get(ctx context.Context, address string, c *http.Client) (body []byte, status int, err error) {
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return nil, 0, err
	}
	answer, err := c.Do(r)
	if err != nil {
		return nil, 0, err
	}
	defer answer.Body.Close()
	body, err = io.ReadAll(answer.Body)
	return body, answer.StatusCode, err
}
