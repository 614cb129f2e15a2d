package server

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"net/mail"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/crypto/argon2"

	"idletimber/craft/sanding"
	"idletimber/craft/shop"
	"idletimber/store"
)

// Sign-in attempts: so many wrong ones within a time, then a pause.
const (
	mostAttempts  = 5
	attemptWindow = 15 * time.Minute
)

// What a session holds: whose it is, and a mark of the password that opened
// it, so that a changed password closes the others.
const (
	sessionAccount  = "account"
	sessionPassword = "password"
)

func markOf(a store.Account) string {
	sum := sha256.Sum256([]byte(a.Password))
	return base64.RawStdEncoding.EncodeToString(sum[:9])
}

type accountKey struct{}

// account is the signed-in maker of a private request.
func account(ctx context.Context) store.Account {
	return ctx.Value(accountKey{}).(store.Account)
}

// requireAccount lets only signed-in makers through.
func (s *Server) requireAccount(ctx huma.Context, next func(huma.Context)) {
	a, err := s.Store.AccountByID(ctx.Context(), s.sessions.GetString(ctx.Context(), sessionAccount))
	switch {
	case errors.Is(err, store.ErrNotFound),
		err == nil && s.sessions.GetString(ctx.Context(), sessionPassword) != markOf(a):
		huma.WriteErr(s.api, ctx, 401, "sign in first")
	case err != nil:
		huma.WriteErr(s.api, ctx, 500, "the account could not be read", err)
	default:
		next(huma.WithValue(ctx, accountKey{}, a))
	}
}

// Me is the signed-in maker.
type Me struct {
	Email string `json:"email"`
}

type meOut struct{ Body Me }

type credentials struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Password string `json:"password" maxLength:"200"`
	}
}

type newAccount struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Password string `json:"password" maxLength:"200"`
		TimeZone string `json:"timeZone,omitempty" maxLength:"100" doc:"IANA name; UTC when left out"`
	}
}

var errCredentials = huma.Error401Unauthorized("the e-mail and the password do not go together")

func (s *Server) accountRoutes(public, private huma.API) {
	huma.Post(public, "/api/sign-up", s.signUp)
	huma.Post(public, "/api/sign-in", s.signIn)
	if s.Demo != "" {
		huma.Post(public, "/api/sign-in/sample", s.signInSample)
	}
	huma.Post(private, "/api/sign-out", func(ctx context.Context, _ *struct{}) (*struct{}, error) {
		return nil, s.sessions.Destroy(ctx)
	})
	huma.Get(private, "/api/me", func(ctx context.Context, _ *struct{}) (*meOut, error) {
		return &meOut{Me{account(ctx).Email}}, nil
	})
	huma.Post(private, "/api/password", s.changePassword)
}

func checkPassword(field, password string) error {
	if len(password) < 10 {
		return huma.Error422UnprocessableEntity(
			"the password is too short",
			&huma.ErrorDetail{Location: field, Message: "it has fewer than 10 characters; use 10 or more"},
		)
	}
	return nil
}

func (s *Server) signUp(ctx context.Context, in *newAccount) (*meOut, error) {
	if a, err := mail.ParseAddress(in.Body.Email); err != nil || a.Address != in.Body.Email {
		return nil, huma.Error422UnprocessableEntity(
			"this is not an e-mail address",
			&huma.ErrorDetail{Location: "body.email", Message: "it cannot be read; write it like maker@example.org"},
		)
	}
	if err := checkPassword("body.password", in.Body.Password); err != nil {
		return nil, err
	}
	first := shop.Usual()
	if in.Body.TimeZone != "" {
		first.TimeZone = in.Body.TimeZone
	}
	if ps := first.Check("shop", sanding.Grits); len(ps) > 0 {
		return nil, answer(ps)
	}
	a, err := s.Store.NewAccount(ctx, in.Body.Email, s.hash(in.Body.Password), first)
	if errors.Is(err, store.ErrTaken) {
		return nil, huma.Error422UnprocessableEntity(
			"this address has an account already",
			&huma.ErrorDetail{Location: "body.email", Message: "it is in use; sign in instead"},
		)
	}
	if err != nil {
		return nil, answer(err)
	}
	return s.enter(ctx, a)
}

func (s *Server) signIn(ctx context.Context, in *credentials) (*meOut, error) {
	a, err := s.Store.AccountByEmail(ctx, in.Body.Email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, answer(err)
	}
	ok, err := s.verify(ctx, in.Body.Email, a.Password, in.Body.Password)
	if err != nil {
		return nil, err
	}
	if !ok {
		return nil, errCredentials
	}
	return s.enter(ctx, a)
}

// verify compares a password with its stored form, as often as attempts on the
// address allow. An unknown address takes as long as a wrong password.
func (s *Server) verify(ctx context.Context, email, stored, password string) (bool, error) {
	allowed, err := s.Store.SignInAttempt(ctx, email, mostAttempts, attemptWindow)
	if err != nil {
		return false, answer(err)
	}
	if !allowed {
		return false, huma.Error429TooManyRequests("too many attempts; wait a quarter of an hour and try again")
	}
	if !s.matches(stored, password) {
		return false, nil
	}
	return true, s.Store.ForgetAttempts(ctx, email)
}

// signInSample opens the sample shop.
func (s *Server) signInSample(ctx context.Context, _ *struct{}) (*meOut, error) {
	a, err := s.Store.AccountByEmail(ctx, s.Demo)
	if err != nil {
		return nil, answer(err)
	}
	return s.enter(ctx, a)
}

func (s *Server) enter(ctx context.Context, a store.Account) (*meOut, error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, sessionAccount, a.ID)
	s.sessions.Put(ctx, sessionPassword, markOf(a))
	return &meOut{Me{a.Email}}, nil
}

type passwordChange struct {
	Body struct {
		Old string `json:"old" maxLength:"200"`
		New string `json:"new" maxLength:"200"`
	}
}

// changePassword closes every other session of the account.
func (s *Server) changePassword(ctx context.Context, in *passwordChange) (*meOut, error) {
	a := account(ctx)
	ok, err := s.verify(ctx, a.Email, a.Password, in.Body.Old)
	if err != nil {
		return nil, err
	}
	if !ok {
		return nil, huma.Error422UnprocessableEntity(
			"the old password is wrong",
			&huma.ErrorDetail{
				Location: "body.old",
				Message:  "it does not match; type the password that you signed in with",
			},
		)
	}
	if err := checkPassword("body.new", in.Body.New); err != nil {
		return nil, err
	}
	a.Password = s.hash(in.Body.New)
	if err := s.Store.SetPassword(ctx, a.ID, a.Password); err != nil {
		return nil, err
	}
	return s.enter(ctx, a)
}

// argon2id with 19 MiB, two passes.
const (
	argonTime, argonMemory, argonThreads, argonLength = 2, 19 * 1024, 1, 32
	saltLength                                        = 16
)

func (s *Server) derive(password string, salt []byte) []byte {
	s.hashing <- struct{}{}
	defer func() { <-s.hashing }()
	return argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonThreads, argonLength)
}

// hash makes the stored form of a password: argon2id$salt$key in base64.
func (s *Server) hash(password string) string {
	salt := make([]byte, saltLength)
	rand.Read(salt) // never fails
	enc := base64.RawStdEncoding
	return fmt.Sprintf("argon2id$%s$%s", enc.EncodeToString(salt), enc.EncodeToString(s.derive(password, salt)))
}

// matches compares a password with its stored form; an empty form matches none.
func (s *Server) matches(stored, password string) bool {
	parts := strings.Split(stored, "$")
	if len(parts) != 3 {
		parts = []string{"", "", ""}
	}
	salt, _ := base64.RawStdEncoding.DecodeString(parts[1])
	key, _ := base64.RawStdEncoding.DecodeString(parts[2])
	return subtle.ConstantTimeCompare(key, s.derive(password, salt)) == 1 && len(key) == argonLength
}

// NewSample adds the account of the sample shop, with a password that nobody
// knows: it is opened by one press.
func (s *Server) NewSample(ctx context.Context, v shop.Shop) (store.Account, error) {
	return s.Store.NewAccount(ctx, s.Demo, s.hash(rand.Text()), v)
}
