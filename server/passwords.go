package server

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/trustelem/zxcvbn"
	"golang.org/x/crypto/argon2"
)

// argon2id with 19 MiB, two passes.
const (
	argonTime, argonMemory, argonThreads, argonLength = 2, 19 * 1024, 1, 32
	saltLength                                        = 16
)

func derive(password string, salt []byte) []byte {
	return argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonThreads, argonLength)
}

// hash makes the stored form of a password: argon2id$salt$key in base64.
func (s *Server) hash(ctx context.Context, password string) (string, error) {
	done, err := s.hashing.others.begin(ctx)
	if err != nil {
		return "", err
	}
	defer done()
	salt := make([]byte, saltLength)
	rand.Read(salt) // never fails
	enc := base64.RawStdEncoding
	return fmt.Sprintf("argon2id$%s$%s", enc.EncodeToString(salt), enc.EncodeToString(derive(password, salt))), nil
}

// matches compares a password with its stored form; an empty form matches none.
func matches(stored, password string) bool {
	parts := strings.Split(stored, "$")
	if len(parts) != 3 {
		parts = []string{"", "", ""}
	}
	salt, _ := base64.RawStdEncoding.DecodeString(parts[1])
	key, _ := base64.RawStdEncoding.DecodeString(parts[2])
	return subtle.ConstantTimeCompare(key, derive(password, salt)) == 1 && len(key) == argonLength
}

// A lane is where a password waits for its hash, which takes memory and a core: each
// works at one at a time, so that guesses wait for each other and nobody for them.
type lane chan struct{}

// hashing are the lanes of those who signed in from the same address before, of
// those who guessed wrong lately, and of everybody else.
type hashing struct{ known, guessing, others lane }

func newHashing() hashing { return hashing{make(lane, 1), make(lane, 1), make(lane, 1)} }

// begin waits for a turn.
func (l lane) begin(ctx context.Context) (done func(), err error) {
	select {
	case l <- struct{}{}:
		return func() { <-l }, nil
	case <-ctx.Done():
		return nil, huma.Error503ServiceUnavailable("too many sign in at once; try again in a moment")
	}
}

// Strength of passwords: how many characters at least, how many are looked at, and
// the least score of five by the estimator.
const (
	leastLength = 10
	mostJudged  = 72
	leastScore  = 3
)

// weaknesses says in words what the estimator found in a password, without repeating
// it.
var weaknesses = map[string]string{
	"dictionary": "it holds a word or a name that is tried first",
	"spatial":    "it runs along the keys of a keyboard",
	"repeat":     "it repeats itself",
	"sequence":   "it is a sequence",
	"regex":      "it holds a year",
	"date":       "it holds a date",
}

// checkPassword refuses a password that is soon guessed, and says why.
func checkPassword(field, password, email string) error {
	refuse := func(why string) error {
		return huma.Error422UnprocessableEntity("the password is soon guessed",
			&huma.ErrorDetail{Location: field, Message: why})
	}
	if len([]rune(password)) < leastLength {
		return refuse("it has fewer than 10 characters; use 10 or more")
	}
	judged := password[:min(len(password), mostJudged)]
	found := zxcvbn.PasswordStrength(judged, append(strings.FieldsFunc(email, func(r rune) bool {
		return strings.ContainsRune("@.-_+", r)
	}), email, "idle", "timber", "idletimber"))
	if found.Score >= leastScore {
		return nil
	}
	why := "it is short for what it holds"
	for _, m := range found.Sequence {
		if words, ok := weaknesses[m.Pattern]; ok && len(m.Token) > 2 {
			why = words
			break
		}
	}
	return refuse(why + "; take three or four words that have nothing to do with each other")
}
