package reach

import (
	"net"
	"net/http"
	"strconv"
	"strings"
)

// ToHTTPS sends browsers that come by http to https on a port, but for what open
// answers: what a device needs before it trusts the certificate.
func ToHTTPS(port int, open http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/trust" || strings.HasPrefix(r.URL.Path, "/trust/") || strings.HasPrefix(r.URL.Path, "/static/") {
			open.ServeHTTP(w, r)
			return
		}
		host := bare(r.Host)
		if port != 443 {
			host = net.JoinHostPort(host, strconv.Itoa(port))
		} else if strings.Contains(host, ":") {
			host = "[" + host + "]"
		}
		w.Header().Set("Location", "https://"+host+r.URL.RequestURI())
		w.Header().Set("Cache-Control", "no-store")
		w.WriteHeader(http.StatusPermanentRedirect) // forms go on as forms
	})
}
