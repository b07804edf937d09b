package shop

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Member is what the rules on staff look at of a person.
type Member struct {
	ID     string
	Role   Role
	Active bool
}

// Why a change of the staff is refused.
var (
	ErrLastLead  = errors.New("somebody must run the shop: make another person lead first")
	ErrLastOwner = errors.New("the shop must keep an owner: make another person owner first")
	ErrOwners    = errors.New("only an owner makes an owner, or changes one")
	ErrOneself   = errors.New("you cannot let yourself go: ask another lead")
)

// CheckChange says why somebody may not make a person what they are to be from now on; somebody new is not in the
// staff yet.
func CheckChange(staff []Member, by, to Member) error {
	at := slices.IndexFunc(staff, func(m Member) bool { return m.ID == to.ID })
	was := Member{}
	if at >= 0 {
		was = staff[at]
	}
	if (was.Role == Owner || to.Role == Owner) && was != to && by.Role != Owner {
		return ErrOwners
	}
	if to.ID == by.ID && !to.Active {
		return ErrOneself
	}
	remains := func(counts func(Role) bool) bool {
		return to.Active && counts(to.Role) || slices.ContainsFunc(staff, func(m Member) bool {
			return m.ID != to.ID && m.Active && counts(m.Role)
		})
	}
	if was.Active && was.Role == Owner && !remains(func(r Role) bool { return r == Owner }) {
		return ErrLastOwner
	}
	if was.Active && was.Role.Leads() && !remains(Role.Leads) {
		return ErrLastLead
	}
	return nil
}

// Initials are up to two letters that stand for a name where there is no room for it.
func Initials(name string) string {
	words := strings.FieldsFunc(name, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	if len(words) == 0 {
		return "?"
	}
	first := func(word string) string { r, _ := utf8.DecodeRuneInString(word); return string(unicode.ToUpper(r)) }
	if len(words) == 1 {
		return first(words[0])
	}
	return first(words[0]) + first(words[len(words)-1])
}

// Bounds of a name to sign in by, in letters.
const (
	signInLeast = 2
	signInMost  = 40
)

// ParseSignIn reads a name to sign in by: it is the same in capitals, and has no spaces, so that it is easily typed
// with wet hands.
func ParseSignIn(text string) (string, error) {
	name := strings.ToLower(strings.TrimSpace(text))
	if n := utf8.RuneCountInString(name); n < signInLeast || n > signInMost {
		return "", fmt.Errorf("%q: from %d to %d letters", text, signInLeast, signInMost)
	}
	for _, r := range name {
		if !unicode.IsLetter(r) && !unicode.IsDigit(r) && !strings.ContainsRune("._-", r) {
			return "", fmt.Errorf("%q: letters, digits, dots and dashes only", text)
		}
	}
	return name, nil
}

// passwordLeast is how many letters a password has at least. NIST SP 800-63B (2017), 5.1.1.2, asks for eight and for no
// mixture of kinds of letters (from memory); it is ten here, since a shop's records stand behind one.
const passwordLeast = 10

// CheckPassword says what is wrong with a new password of somebody by their sign-in name and their name; refused are those that are
// published.
func CheckPassword(password, signIn, name string, refused ...string) error {
	switch {
	case utf8.RuneCountInString(password) < passwordLeast:
		return fmt.Errorf(
			"at least %d letters: three unrelated words are easy to remember",
			passwordLeast,
		)
	case utf8.RuneCountInString(password) > 200:
		return errors.New("200 letters at most")
	case slices.Contains(refused, password):
		return errors.New("this password is published with the demo: choose another")
	case signIn != "" && strings.Contains(strings.ToLower(password), signIn) && len(password) < len(signIn)+6:
		return errors.New("it is too close to the sign-in name: choose another")
	case distinct(password) < 4:
		return errors.New("a few letters repeated are guessed at once: choose another")
	case common(password, signIn, name):
		return errors.New("this is among the first that are guessed: three words that have nothing to do with each other are better")
	}
	return nil
}

func distinct(text string) int {
	seen := map[rune]bool{}
	for _, r := range text {
		seen[r] = true
	}
	return len(seen)
}

// DrawDigits draws four digits for the shared tablet from a source of numbers below a bound: people choose years and birthdays.
func DrawDigits(below func(int) int) string {
	for {
		if digits := fmt.Sprintf("%04d", below(10_000)); CheckDigits(digits) == nil {
			return digits
		}
	}
}

// CheckDigits says what is wrong with four digits for the shared tablet.
func CheckDigits(digits string) error {
	if len(digits) != 4 || strings.Trim(digits, "0123456789") != "" {
		return errors.New("four digits")
	}
	up, down, same := true, true, true
	for i := 1; i < len(digits); i++ {
		step := int(digits[i]) - int(digits[i-1])
		up, down, same = up && step == 1, down && step == -1, same && step == 0
	}
	if up || down || same {
		return errors.New("not four alike or in a row: those are guessed first")
	}
	return nil
}

// codeLetters are Crockford's base 32: no letter in it looks like another.
const codeLetters = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"

// CodeBytes is how many random bytes a code is made of.
const CodeBytes = 8

// Code writes a one-time code of eight letters, 40 bits, from random bytes, in two groups for reading aloud.
func Code(random [CodeBytes]byte) string {
	var b strings.Builder
	for i, x := range random {
		if i == CodeBytes/2 {
			b.WriteByte('-')
		}
		b.WriteByte(codeLetters[x%32])
	}
	return b.String()
}

// ReadCode reads a code as people type it: in small letters, with spaces, with letters for the digits they look like
// (Crockford's base 32). The second value is false when it cannot be a code.
func ReadCode(text string) (string, bool) {
	var read []rune
	for _, r := range strings.ToUpper(text) {
		switch {
		case unicode.IsSpace(r) || r == '-':
			continue
		case r == 'O':
			r = '0'
		case r == 'I' || r == 'L':
			r = '1'
		}
		if !strings.ContainsRune(codeLetters, r) {
			return "", false
		}
		read = append(read, r)
	}
	if len(read) != CodeBytes {
		return "", false
	}
	return string(read[:4]) + "-" + string(read[4:]), true
}

// How somebody signed in.
type How string

// The ways.
const (
	ByPassword How = "password"
	ByCode     How = "code"
	ByDigits   How = "digits"
)

// DeviceKind is what a device is.
type DeviceKind string

// The kinds of device.
const (
	Tablet   DeviceKind = "tablet"   // people share it, and sign in by four digits
	Sensor   DeviceKind = "sensor"   // it posts readings
	Calendar DeviceKind = "calendar" // it follows the bookings by a secret address
)

// Values lists the kinds.
func (DeviceKind) Values() []string {
	return []string{string(Tablet), string(Sensor), string(Calendar)}
}
