package store

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"

	"golang.org/x/crypto/argon2"
)

// Argon2id with 19 MiB, two passes and one lane: the least that OWASP's
// password storage notes advise (from memory).
const (
	argonMemory = 19 * 1024
	argonPasses = 2
	argonLanes  = 1
	argonKey    = 32
)

// hashing bounds how many passwords are hashed at once, and so their memory:
// whoever sends many waits.
var hashing = make(chan struct{}, 2)

func derive(password string, salt []byte, passes, memory uint32, lanes uint8, n uint32) []byte {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, passes, memory, lanes, n)
}

// HashPassword returns a salted argon2id hash in PHC string format.
func HashPassword(password string) string {
	salt := make([]byte, 16)
	rand.Read(salt) // never fails
	key := derive(password, salt, argonPasses, argonMemory, argonLanes, argonKey)
	b64 := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonPasses, argonLanes, b64(salt), b64(key))
}

// passwordMatches reports whether hash, made by HashPassword, is of password.
func passwordMatches(hash, password string) bool {
	var version, memory, passes, lanes uint32
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &lanes); err != nil || lanes == 0 || lanes > 255 {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	want, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil || len(want) == 0 {
		return false
	}
	got := derive(password, salt, passes, memory, uint8(lanes), uint32(len(want)))
	return subtle.ConstantTimeCompare(got, want) == 1
}
