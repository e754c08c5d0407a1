// Package ports finds ports for servers that are started on this machine.
package ports

import (
	"fmt"
	"math/rand/v2"
	"net"
)

// Servers' ports are looked for below those that the system gives to connections going out
// (from 32768 on under Linux, from 49152 by RFC 6335): there one that was free a moment ago is
// easily another's when the server asks for it.
const lowest, highest = 12000, 32000

// Address returns a loopback address on which nobody listens.
func Address() (string, error) {
	found, err := Free(1)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("127.0.0.1:%d", found[0]), nil
}

// Free returns ports of the loopback address on which nobody listens, each another. The error
// says that there are none.
func Free(n int) (ports []int, err error) {
	for tries := 0; len(ports) < n; tries++ {
		if tries > 100*n {
			return nil, fmt.Errorf("no port from %d to %d is free: %w", lowest, highest, err)
		}
		port := lowest + rand.IntN(highest-lowest)
		l, refused := net.ListenTCP("tcp", &net.TCPAddr{IP: net.IPv4(127, 0, 0, 1), Port: port})
		if refused != nil {
			err = refused
			continue
		}
		defer l.Close() // all are held until all are found
		ports = append(ports, port)
	}
	return ports, nil
}
