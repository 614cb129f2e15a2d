package server

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"net/mail"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/crypto/argon2"

	"idletimber/craft/shop"
	"idletimber/store"
)

// Sign-in attempts: so many failures within a time, then a pause.
const (
	mostFailures  = 5
	failureWindow = 15 * time.Minute
)

const sessionAccount = "account"

type accountKey struct{}

// account is the signed-in maker of a private request.
func account(ctx context.Context) store.Account {
	return ctx.Value(accountKey{}).(store.Account)
}

// requireAccount lets only signed-in makers through.
func (s *Server) requireAccount(ctx huma.Context, next func(huma.Context)) {
	a, err := s.Store.AccountByID(ctx.Context(), s.sessions.GetString(ctx.Context(), sessionAccount))
	switch {
	case errors.Is(err, store.ErrNotFound):
		huma.WriteErr(s.api, ctx, 401, "sign in first")
	case err != nil:
		s.Log.Error("account", "error", err)
		huma.WriteErr(s.api, ctx, 500, "the account could not be read")
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
		return huma.Error422UnprocessableEntity("the password is too short", &huma.ErrorDetail{Location: field, Message: "it has fewer than 10 characters; use 10 or more"})
	}
	return nil
}

func (s *Server) signUp(ctx context.Context, in *credentials) (*meOut, error) {
	if a, err := mail.ParseAddress(in.Body.Email); err != nil || a.Address != in.Body.Email {
		return nil, huma.Error422UnprocessableEntity("this is not an e-mail address", &huma.ErrorDetail{Location: "body.email", Message: "it cannot be read; write it like maker@example.org"})
	}
	if err := checkPassword("body.password", in.Body.Password); err != nil {
		return nil, err
	}
	a, err := s.Store.NewAccount(ctx, in.Body.Email, s.hash(in.Body.Password), shop.Usual())
	if errors.Is(err, store.ErrTaken) {
		return nil, huma.Error422UnprocessableEntity("this address has an account already", &huma.ErrorDetail{Location: "body.email", Message: "it is in use; sign in instead"})
	}
	if err != nil {
		return nil, err
	}
	return s.enter(ctx, a)
}

func (s *Server) signIn(ctx context.Context, in *credentials) (*meOut, error) {
	n, err := s.Store.SignInFailures(ctx, in.Body.Email, failureWindow)
	if err != nil {
		return nil, err
	}
	if n >= mostFailures {
		return nil, huma.Error429TooManyRequests("too many attempts; wait a quarter of an hour and try again")
	}
	a, err := s.Store.AccountByEmail(ctx, in.Body.Email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	if !s.matches(a.Password, in.Body.Password) { // an unknown address takes as long as a wrong password
		if err := s.Store.SignInFailed(ctx, in.Body.Email); err != nil {
			return nil, err
		}
		return nil, errCredentials
	}
	return s.enter(ctx, a)
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
	return &meOut{Me{a.Email}}, nil
}

type passwordChange struct {
	Body struct {
		Old string `json:"old" maxLength:"200"`
		New string `json:"new" maxLength:"200"`
	}
}

func (s *Server) changePassword(ctx context.Context, in *passwordChange) (*struct{}, error) {
	if !s.matches(account(ctx).Password, in.Body.Old) {
		return nil, huma.Error422UnprocessableEntity("the old password is wrong", &huma.ErrorDetail{Location: "body.old", Message: "it does not match; type the password that you signed in with"})
	}
	if err := checkPassword("body.new", in.Body.New); err != nil {
		return nil, err
	}
	return nil, s.Store.SetPassword(ctx, account(ctx).ID, s.hash(in.Body.New))
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
