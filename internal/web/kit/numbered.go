package kit

import (
	"context"
	"crypto/rand"
	"net/http"
)

type numberKey struct{}

// numberLength is how many letters a request's name has.
const numberLength = 10

// Numbered gives every request a name of its own, for the log and for whoever asks
// for help. What a browser or proxy calls it is not believed.
func Numbered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := rand.Text()[:numberLength]
		w.Header().Set("Request-Id", id)
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), numberKey{}, id)))
	})
}

// RequestID returns the request's name.
func RequestID(r *http.Request) string {
	id, _ := r.Context().Value(numberKey{}).(string)
	return id
}
