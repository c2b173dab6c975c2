package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"
	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"
	passwordvalidator "github.com/wagslane/go-password-validator"

	"restbend/formats"
	"restbend/store"
)

// Who works in the studio, what each may do, and how they are let in.

// Right is what it takes to ask for something.
type Right string

// The rights, from what anybody may ask for to what the owner alone may.
const (
	Anybody Right = "anybody" // without signing in
	Own     Right = "own"     // everybody signed in, about themselves
	Day     Right = "day"     // the page of the day
	Read    Right = "read"    // clients one works with, and the library
	Work    Right = "work"    // and change them
	Keep    Right = "keep"    // the studio as a whole: people, copies, the trail, all data at once
)

// Role is what somebody is in the studio.
type Role struct {
	ID, Words, Does string
	may             []Right
}

// Roles are all there are, the widest first.
var Roles = []Role{
	{"owner", "owner", "sees and does everything, and looks after people and copies", []Right{Own, Day, Read, Work, Keep}},
	{"instructor", "instructor", "plans, teaches and keeps the records of the clients she works with", []Right{Own, Day, Read, Work}},
	{"reader", "colleague who reads", "looks at the clients she works with and changes nothing", []Right{Own, Day, Read}},
	{"assistant", "assistant", "sees who comes today and when, and nothing else", []Right{Own, Day}},
}

// RoleOf finds a role; one that may do nothing for an unknown name.
func RoleOf(id string) Role {
	if i := slices.IndexFunc(Roles, func(r Role) bool { return r.ID == id }); i >= 0 {
		return Roles[i]
	}
	return Role{}
}

// May says whether the role has a right.
func (r Role) May(x Right) bool { return x == Anybody || slices.Contains(r.may, x) }

// hashing takes 19 MiB and two rounds, as the OWASP password storage cheat sheet has it (from
// memory).
var hashing = &argon2id.Params{Memory: 19 << 10, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// atOnce bounds the memory that hashing takes.
var atOnce = make(chan struct{}, 2)

func hashOf(secret string) (string, error) {
	atOnce <- struct{}{}
	defer func() { <-atOnce }()
	return argon2id.CreateHash(secret, hashing)
}

func matches(secret, hash string) bool {
	atOnce <- struct{}{}
	defer func() { <-atOnce }()
	same, err := argon2id.ComparePasswordAndHash(secret, hash)
	return same && err == nil
}

// nobodys is compared with where there is no such person, so that an answer takes as long.
var nobodys = sync.OnceValue(func() string {
	hash, err := hashOf("nobody has this one")
	if err != nil {
		panic(err) // only where the system has no chance to give
	}
	return hash
})

// Shortest is how many characters a password has at least.
const Shortest = 10

// enough is how many bits a password has at least, its common words not counted. Common
// practice.
const enough = 50

// common are words that passwords are made of, and that are tried first. From memory.
var common = strings.Fields(
	`password passwort passw0rd qwerty qwertz azerty asdfgh letmein welcome monkey dragon football baseball sunshine princess iloveyou
	admin administrator login master shadow superman batman michael jordan charlie jennifer thomas hunter summer winter spring autumn secret
	trustno1 whatever freedom flower cookie cheese pepper ginger computer internet starwars pokemon mustang corvette liverpool chelsea
	arsenal access hello soccer hockey killer george andrew joshua daniel jessica ashley amanda nicole maggie buster tigger donald google
	samsung apple january february march april june july august september october november december monday friday sunday
	restbend pilates yoga studio clinic physio therapy client health spine back abc123 123456 654321 111111 000000 121212`,
)

// withoutCommon is a password without its common words, and without those that belong to who
// uses it.
func withoutCommon(p string, hints []string) string {
	p = strings.ToLower(p)
	for _, h := range hints {
		for _, w := range append(strings.Fields(strings.ToLower(h)), strings.ToLower(h)) {
			if len(w) > 2 {
				p = strings.ReplaceAll(p, w, "")
			}
		}
	}
	for _, w := range common {
		p = strings.ReplaceAll(p, w, "")
	}
	return p
}

// checkPassword refuses what is guessed soon. The hints are words that are easy to guess for
// this person.
func checkPassword(p string, hints ...string) error {
	n := utf8.RuneCountInString(p)
	switch {
	case n < Shortest || n > 128:
		return &formats.Invalid{Path: "password", Want: fmt.Sprintf("expected %d to 128 characters, found %d", Shortest, n)}
	case passwordvalidator.GetEntropy(withoutCommon(p, hints)) < enough:
		return &formats.Invalid{
			Path: "password",
			Want: "is guessed too easily; four or five words that do not belong together are good and easy to keep in mind",
		}
	}
	return nil
}

func checkPerson(p store.Person) error {
	if n := utf8.RuneCountInString(p.Name); n < 1 || n > 80 {
		return &formats.Invalid{Path: "name", Want: "expected 1 to 80 characters"}
	}
	if n := utf8.RuneCountInString(p.Login); n < 2 || n > 80 || strings.ContainsAny(p.Login, " \t\n") {
		return &formats.Invalid{
			Path: "sign-in name",
			Want: "expected 2 to 80 characters without spaces, such as an address or a first name",
		}
	}
	if RoleOf(p.Role).ID == "" {
		return &formats.Invalid{Path: "role", Want: fmt.Sprintf("%q is none; expected owner, instructor, reader or assistant", p.Role)}
	}
	return nil
}

// Begin makes the first person, the owner, of a studio that has none, and names the studio.
func (s *Studio) Begin(ctx context.Context, studio string, p store.Person, password string) (id string, err error) {
	studio = strings.TrimSpace(studio)
	if n := utf8.RuneCountInString(studio); n < 1 || n > 80 {
		return "", &formats.Invalid{Path: "name of the studio", Want: "expected 1 to 80 characters"}
	}
	p.Role = "owner"
	err = s.Store.Within(ctx, func(in *store.Store) error {
		all, err := in.People(ctx)
		if err != nil {
			return err
		}
		if len(all) > 0 {
			return &formats.Invalid{Path: "studio", Want: "has an owner already; sign in, or ask her to add you"}
		}
		if err := in.Change(ctx, func(t *store.Tx) error { return t.SetSetting("studio", studio) }); err != nil {
			return err
		}
		id, err = s.withStore(in).AddPerson(store.Sent(ctx, store.Form{}), p, password)
		return err
	})
	return id, err
}

// AddPerson adds somebody who may sign in with a password from now on.
func (s *Studio) AddPerson(ctx context.Context, p store.Person, password string) (string, error) {
	p.Name, p.Login = strings.TrimSpace(p.Name), strings.TrimSpace(p.Login)
	if err := checkPerson(p); err != nil {
		return "", err
	}
	if err := checkPassword(password, p.Name, p.Login); err != nil {
		return "", err
	}
	if err := s.loginIsFree(ctx, p); err != nil {
		return "", err
	}
	var err error
	if p.Password, err = hashOf(password); err != nil {
		return "", err
	}
	return s.Store.Make(ctx, func(t *store.Tx) (string, error) { return t.AddPerson(p, s.Now()) })
}

func (s *Studio) loginIsFree(ctx context.Context, p store.Person) error {
	all, err := s.Store.People(ctx)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(all, func(o store.Person) bool { return o.ID != p.ID && strings.EqualFold(o.Login, p.Login) }) {
		return &formats.Invalid{Path: "sign-in name", Want: fmt.Sprintf("%s is somebody’s already", p.Login)}
	}
	return nil
}

// changePerson changes a stored person.
func (s *Studio) changePerson(ctx context.Context, id string, change func(*store.Person) error) error {
	p, err := s.Store.Person(ctx, id)
	if err != nil {
		return err
	}
	if err := change(&p); err != nil {
		return err
	}
	if err := checkPerson(p); err != nil {
		return err
	}
	if err := s.loginIsFree(ctx, p); err != nil {
		return err
	}
	return s.Store.Within(ctx, func(in *store.Store) error {
		if err := in.Change(ctx, func(t *store.Tx) error { return t.ChangePerson(p) }); err != nil {
			return err
		}
		n, err := in.Owners(ctx)
		if err == nil && n == 0 {
			err = &formats.Invalid{Path: "role", Want: "the studio would be without an owner; make somebody else one first"}
		}
		return err
	})
}

// ChangePerson gives somebody another name, sign-in name or role; another role signs them out.
func (s *Studio) ChangePerson(ctx context.Context, id, name, login, role string) error {
	return s.changePerson(ctx, id, func(p *store.Person) error {
		if p.Role != role {
			p.Epoch++
		}
		p.Name, p.Login, p.Role = strings.TrimSpace(name), strings.TrimSpace(login), role
		return nil
	})
}

// Leave deactivates or reactivates a person. What they did stays in the audit trail.
func (s *Studio) Leave(ctx context.Context, id string, away bool) error {
	return s.changePerson(ctx, id, func(p *store.Person) error {
		p.Epoch++
		if p.Gone = ""; away {
			p.Gone = s.Now().UTC().Format(time.RFC3339)
		}
		return nil
	})
}

// GivePassword sets somebody's password without the old one, removes their one-time codes
// and signs them out everywhere: for those who have lost them.
func (s *Studio) GivePassword(ctx context.Context, id, password string) error {
	return s.changePerson(ctx, id, func(p *store.Person) (err error) {
		if err := checkPassword(password, p.Name, p.Login); err != nil {
			return err
		}
		p.Epoch, p.Once, p.Short = p.Epoch+1, "", ""
		p.Password, err = hashOf(password)
		return err
	})
}

// errPassword is a wrong password.
var errPassword = &formats.Invalid{Path: "password now", Want: "is not the one that you sign in with"}

// ChangePassword changes one's own password and signs out everywhere else.
func (s *Studio) ChangePassword(ctx context.Context, id, now, next string) error {
	return s.changePerson(ctx, id, func(p *store.Person) (err error) {
		if !matches(now, p.Password) {
			return errPassword
		}
		if err := checkPassword(next, p.Name, p.Login); err != nil {
			return err
		}
		p.Epoch++
		p.Password, err = hashOf(next)
		return err
	})
}

// SignOutEverywhere ends all of somebody's sessions.
func (s *Studio) SignOutEverywhere(ctx context.Context, id string) error {
	return s.changePerson(ctx, id, func(p *store.Person) error {
		p.Epoch++
		return nil
	})
}

// SetShort sets the short code, four to eight digits, that unlocks a screen; none takes it
// away.
func (s *Studio) SetShort(ctx context.Context, id, password, code string) error {
	return s.changePerson(ctx, id, func(p *store.Person) (err error) {
		if !matches(password, p.Password) {
			return errPassword
		}
		if p.Short = ""; code == "" {
			return nil
		}
		digits := strings.Trim(code, "0123456789") == ""
		if !digits || len(code) < 4 || len(code) > 8 || strings.Count(code, code[:1]) == len(code) ||
			strings.Contains("0123456789 9876543210", code) {
			return &formats.Invalid{Path: "short code", Want: "expected four to eight digits that are not all alike or in a row"}
		}
		p.Short, err = hashOf(code)
		return err
	})
}

// NewOnce is a new secret for one-time codes and the address that an app for them reads; it
// holds when it was confirmed.
func NewOnce(studio, login string) (secret, address string, err error) {
	key, err := totp.Generate(
		totp.GenerateOpts{Issuer: "Rest Bend " + strings.ReplaceAll(studio, ":", " "), AccountName: strings.ReplaceAll(login, ":", " ")},
	)
	if err != nil {
		return "", "", err
	}
	return key.Secret(), key.URL(), nil
}

// OncePicture is the picture of such an address, which a telephone reads.
func OncePicture(address string) (*otp.Key, error) { return otp.NewKeyFromURL(address) }

// onceHolds says whether a one-time code is right at a moment.
func onceHolds(code, secret string, at time.Time) bool {
	ok, err := totp.ValidateCustom(
		strings.ReplaceAll(code, " ", ""),
		secret,
		at,
		totp.ValidateOpts{Period: 30, Skew: 1, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1},
	)
	return ok && err == nil
}

// SetOnce turns one-time codes on, with a code that shows that they work, or off, with the
// password alone.
func (s *Studio) SetOnce(ctx context.Context, id, password, secret, code string) error {
	return s.changePerson(ctx, id, func(p *store.Person) error {
		if !matches(password, p.Password) {
			return errPassword
		}
		if secret != "" && !onceHolds(code, secret, s.Now()) {
			return &formats.Invalid{
				Path: "one-time code",
				Want: "is not the one of this moment; look at the clock of the telephone, and read the code anew",
			}
		}
		p.Once, p.Epoch = secret, p.Epoch+1
		return nil
	})
}

// ErrNotLetIn is returned where name, password or code are not right; it does not say which.
var ErrNotLetIn = errors.New("sign-in name, password or one-time code are not right")

// SignIn finds who signs in. Codes that were used are not taken again; used says and keeps
// that.
func (s *Studio) SignIn(ctx context.Context, login, password, code string, used func(person, code string) bool) (store.Person, error) {
	p, err := s.Store.PersonNamed(ctx, strings.TrimSpace(login))
	hash := p.Password
	if err != nil {
		if !errors.Is(err, store.ErrNotFound) {
			return p, err
		}
		hash = nobodys()
	}
	right := matches(password, hash) && err == nil
	if right && p.Once != "" {
		right = onceHolds(code, p.Once, s.Now()) && !used(p.ID, code)
	}
	if !right {
		return store.Person{}, ErrNotLetIn
	}
	return p, nil
}

// Unlocks says whether a code or password opens a locked screen of somebody.
func (s *Studio) Unlocks(ctx context.Context, id, code string) (bool, error) {
	p, err := s.Store.Person(ctx, id)
	if err != nil {
		return false, err
	}
	return p.Short != "" && matches(code, p.Short) || matches(code, p.Password), nil
}

// WorksWith sets the clients a person works with, of those they may be given.
func (s *Studio) WorksWith(ctx context.Context, person string, shown, clients []string) error {
	if _, err := s.Store.Person(ctx, person); err != nil {
		return err
	}
	for _, id := range clients {
		if _, err := s.Store.Client(ctx, id); err != nil {
			return err
		}
	}
	return s.Store.Change(ctx, func(t *store.Tx) error {
		for _, id := range shown {
			if err := t.WorkWith(person, id, slices.Contains(clients, id)); err != nil {
				return err
			}
		}
		return nil
	})
}
