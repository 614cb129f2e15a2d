package server

import (
	"context"
	"crypto/rand"
	"errors"
	"net/mail"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/sanding"
	"idletimber/craft/shop"
	"idletimber/store"
)

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
	huma.Post(public, "/api/sign-up", s.signUp, secret)
	huma.Post(public, "/api/sign-in", s.signIn, secret)
	if s.Demo != "" {
		huma.Post(public, "/api/sign-in/sample", s.signInSample)
	}
	huma.Post(private, "/api/sign-out", func(ctx context.Context, _ *struct{}) (*leaving, error) {
		if err := s.endSignIns(ctx, signIn(ctx), ""); err != nil {
			return nil, err
		}
		return &leaving{clearSite}, s.sessions.Destroy(ctx)
	})
	huma.Get(private, "/api/me", func(ctx context.Context, _ *struct{}) (*meOut, error) {
		return &meOut{Me{account(ctx).Email}}, nil
	})
	huma.Get(private, "/api/me/sign-ins", s.listSignIns)
	huma.Delete(private, "/api/me/sign-ins", func(ctx context.Context, _ *struct{}) (*struct{}, error) {
		return nil, s.endSignIns(ctx, "", signIn(ctx))
	})
	huma.Delete(private, "/api/me/sign-ins/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, s.endSignIns(ctx, in.ID, "")
	})
	huma.Post(
		private,
		"/api/me/everything",
		func(ctx context.Context, _ *struct{}) (*struct{ Body SearchDoc }, error) {
			id, err := send(ctx, s, "everything", struct{}{})
			return &struct{ Body SearchDoc }{SearchDoc{id}}, err
		},
	)
	huma.Post(private, "/api/password", s.changePassword, secret)
	huma.Post(private, "/api/me/delete", s.deleteMe, secret)
}

// leaving is the answer to who leaves: the browser forgets pictures and pages.
type leaving struct {
	Clear string `header:"Clear-Site-Data"`
}

const clearSite = `"cache"`

// SignInLine is one device on which the maker is signed in.
type SignInLine struct {
	ID      string    `json:"id"`
	Since   time.Time `json:"since"`
	Seen    time.Time `json:"seen" doc:"When it was last used, within some minutes"`
	Address string    `json:"address" doc:"Of the network that it came from"`
	Agent   string    `json:"agent" doc:"What the browser says of itself"`
	Here    bool      `json:"here" doc:"It is this one"`
}

func (s *Server) listSignIns(ctx context.Context, _ *struct{}) (*struct{ Body []SignInLine }, error) {
	all, err := s.Store.SignIns(ctx, account(ctx).ID)
	out := &struct{ Body []SignInLine }{[]SignInLine{}}
	for _, i := range all {
		out.Body = append(out.Body, SignInLine{i.ID, i.Since, i.Seen, i.Address, i.Agent, i.ID == signIn(ctx)})
	}
	return out, answer(err)
}

// endSignIns ends one sign-in of the maker, or all but one, with their streams.
func (s *Server) endSignIns(ctx context.Context, id, but string) error {
	ended, err := s.Store.EndSignIns(ctx, account(ctx).ID, id, but)
	s.endStreams(ended...)
	return answer(err)
}

func (s *Server) signUp(ctx context.Context, in *newAccount) (*meOut, error) {
	if a, err := mail.ParseAddress(in.Body.Email); err != nil || a.Address != in.Body.Email {
		return nil, huma.Error422UnprocessableEntity(
			"this is not an e-mail address",
			&huma.ErrorDetail{Location: "body.email", Message: "it cannot be read; write it like maker@example.org"},
		)
	}
	if strings.EqualFold(in.Body.Email, s.Demo) {
		return nil, huma.Error422UnprocessableEntity("this address is taken",
			&huma.ErrorDetail{Location: "body.email", Message: "it is the sample shop's; take your own"})
	}
	if err := checkPassword("body.password", in.Body.Password, in.Body.Email); err != nil {
		return nil, err
	}
	if err := s.limits.take(signUpsByAddress, clientOf(ctx).address); err != nil {
		return nil, err
	}
	first := shop.Usual()
	if in.Body.TimeZone != "" {
		first.TimeZone = in.Body.TimeZone
	}
	if ps := first.Check("shop", sanding.Grits); len(ps) > 0 {
		return nil, answer(ps)
	}
	hashed, err := s.hash(ctx, in.Body.Password)
	if err != nil {
		return nil, err
	}
	a, err := s.Store.NewAccount(ctx, in.Body.Email, hashed, first)
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
	if a.ID == "" {
		a.Email = in.Body.Email
	}
	ok, err := s.verify(ctx, a, in.Body.Password)
	if err != nil {
		return nil, err
	}
	if !ok {
		s.Log.Warn("sign-in refused", "account", a.ID, "address", clientOf(ctx).address)
		return nil, errCredentials
	}
	return s.enter(ctx, a)
}

// verify compares a password with that of an account, as often as guesses from the
// client's address allow. An unknown account takes as long as a wrong password.
func (s *Server) verify(ctx context.Context, a store.Account, password string) (bool, error) {
	address := clientOf(ctx).address
	pair := address + " " + strings.ToLower(a.Email)
	known, err := s.Store.SignedInFrom(ctx, a.ID, address)
	if err != nil {
		return false, answer(err)
	}
	lane := s.hashing.others
	switch {
	case known:
		lane = s.hashing.known
	case !s.limits.clean(guessesByPair, pair), !s.limits.clean(guessesByAddress, address):
		lane = s.hashing.guessing
	}
	if err := s.limits.take(guessesByPair, pair); err != nil {
		return false, err
	}
	if err := s.limits.take(guessesByAddress, address); err != nil && !known {
		return false, err
	}
	done, err := lane.begin(ctx)
	if err != nil {
		return false, err
	}
	defer done()
	if !matches(a.Password, password) {
		return false, nil
	}
	s.limits.forget(guessesByPair, pair)
	s.limits.giveBack(guessesByAddress, address)
	return true, nil
}

// signInSample opens the sample shop.
func (s *Server) signInSample(ctx context.Context, _ *struct{}) (*meOut, error) {
	a, err := s.Store.AccountByEmail(ctx, s.Demo)
	if err != nil {
		return nil, answer(err)
	}
	return s.enter(ctx, a)
}

// enter signs an account in on the client that asks.
func (s *Server) enter(ctx context.Context, a store.Account) (*meOut, error) {
	from := clientOf(ctx)
	id, err := s.Store.NewSignIn(ctx, a.ID, from.address, from.agent)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, sessionSignIn, id)
	s.Log.Info("signed in", "account", a.ID, "sign-in", id, "address", from.address, "agent", from.agent)
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
	ok, err := s.verify(ctx, a, in.Body.Old)
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
	if err := checkPassword("body.new", in.Body.New, a.Email); err != nil {
		return nil, err
	}
	if a.Password, err = s.hash(ctx, in.Body.New); err != nil {
		return nil, err
	}
	if err := s.Store.SetPassword(ctx, a.ID, a.Password); err != nil {
		return nil, answer(err)
	}
	return &meOut{Me{a.Email}}, s.endSignIns(ctx, "", signIn(ctx))
}

type deletion struct {
	Body struct {
		Password string `json:"password" maxLength:"200"`
	}
}

// deleteMe removes the account with its workshop and all that it holds.
func (s *Server) deleteMe(ctx context.Context, in *deletion) (*leaving, error) {
	a := account(ctx)
	if strings.EqualFold(a.Email, s.Demo) {
		return nil, huma.Error422UnprocessableEntity("the sample shop is everybody's; it cannot be deleted")
	}
	ok, err := s.verify(ctx, a, in.Body.Password)
	if err != nil {
		return nil, err
	}
	if !ok {
		return nil, huma.Error422UnprocessableEntity("the password is wrong", &huma.ErrorDetail{
			Location: "body.password", Message: "it does not match; type the password that you sign in with"})
	}
	open, err := s.Store.SignIns(ctx, a.ID)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.Store.DeleteAccount(ctx, a.ID); err != nil { // with its sign-ins
		return nil, answer(err)
	}
	for _, i := range open {
		s.endStreams(i.ID)
	}
	s.Log.Info("account deleted", "account", a.ID, "address", clientOf(ctx).address)
	return &leaving{clearSite}, s.sessions.Destroy(ctx)
}

// NewSample adds the account of the sample shop, with a password that nobody
// knows: it is opened by one press.
func (s *Server) NewSample(ctx context.Context, st *store.Store, v shop.Shop) (store.Account, error) {
	hashed, err := s.hash(ctx, rand.Text())
	if err != nil {
		return store.Account{}, err
	}
	return st.NewAccount(ctx, s.Demo, hashed, v)
}
