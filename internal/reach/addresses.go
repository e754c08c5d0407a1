// Package reach is how tablets reach this program: by which addresses, and with
// which certificate.
package reach

import (
	"net"
	"os"
	"slices"
	"strconv"
	"strings"
)

// Addresses returns the addresses by which others reach what listens at an address
// of this machine, as a browser writes them: those of its network cards where it
// listens on all, the plainest first, and then its name.
func Addresses(at net.Addr, https bool) []string {
	tcp, ok := at.(*net.TCPAddr)
	if !ok {
		return nil
	}
	hosts := []string{tcp.IP.String()}
	if tcp.IP.IsUnspecified() {
		hosts = Hosts()
	}
	var all []string
	for _, h := range hosts {
		all = append(all, write(h, tcp.Port, https))
	}
	return all
}

func write(host string, port int, https bool) string {
	scheme, usual := "http", 80
	if https {
		scheme, usual = "https", 443
	}
	if port == usual {
		if strings.Contains(host, ":") {
			host = "[" + host + "]"
		}
		return scheme + "://" + host
	}
	return scheme + "://" + net.JoinHostPort(host, strconv.Itoa(port))
}

// Hosts returns the names by which others may call this machine: the addresses of
// its network cards, IPv4 before IPv6, and its name. One without a network is
// called by the name it has for itself.
func Hosts() (all []string) {
	cards, _ := net.InterfaceAddrs() // none where they cannot be read
	for _, c := range cards {
		network, ok := c.(*net.IPNet)
		if ok && network.IP.IsGlobalUnicast() {
			all = append(all, network.IP.String())
		}
	}
	slices.SortStableFunc(all, func(a, b string) int { return strings.Count(a, ":") - strings.Count(b, ":") })
	if name, err := os.Hostname(); err == nil && name != "localhost" {
		all = append(all, name)
	}
	if len(cards) == 0 || len(all) == 0 {
		all = append(all, "127.0.0.1")
	}
	return all
}
