package shop

import (
	"math/rand"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Who may make whom what: the shop is never left without somebody who runs it.
func TestCheckChange(t *testing.T) {
	owner, lead := Member{"o", Owner, true}, Member{"l", Lead, true}
	washer, gone := Member{"w", Washer, true}, Member{"g", Lead, false}
	as := func(m Member, r Role, active bool) Member { m.Role, m.Active = r, active; return m }
	for name, c := range map[string]struct {
		staff  []Member
		by, to Member
		want   error
	}{
		"a lead takes somebody on":             {[]Member{owner, lead}, lead, Member{"n", Trainee, true}, nil},
		"a lead makes a washer lead":           {[]Member{owner, lead, washer}, lead, as(washer, Lead, true), nil},
		"a lead makes no owner":                {[]Member{owner, lead, washer}, lead, as(washer, Owner, true), ErrOwners},
		"a lead changes no owner":              {[]Member{owner, lead}, lead, as(owner, Lead, true), ErrOwners},
		"a lead lets no owner go":              {[]Member{owner, lead}, lead, as(owner, Owner, false), ErrOwners},
		"an owner saved as they are":           {[]Member{owner, lead}, lead, owner, nil},
		"an owner makes another":               {[]Member{owner, lead}, owner, as(lead, Owner, true), nil},
		"the last owner steps back":            {[]Member{owner, lead}, owner, as(owner, Lead, true), ErrLastOwner},
		"one of two owners steps back":         {[]Member{owner, as(lead, Owner, true)}, owner, as(owner, Washer, true), nil},
		"the last lead, of a shop without one": {[]Member{lead, washer, gone}, lead, as(lead, Washer, true), ErrLastLead},
		"one of two leads":                     {[]Member{lead, as(washer, Lead, true)}, lead, as(lead, Washer, true), nil},
		"nobody lets themselves go":            {[]Member{owner, lead, washer}, lead, as(lead, Lead, false), ErrOneself},
		"another lets them go":                 {[]Member{owner, lead, washer}, owner, as(lead, Lead, false), nil},
		"a washer is let go":                   {[]Member{lead, washer}, lead, as(washer, Washer, false), nil},
		"somebody comes back":                  {[]Member{lead, gone}, lead, as(gone, Washer, true), nil},
	} {
		assert.Equal(t, c.want, CheckChange(c.staff, c.by, c.to), name)
	}
}

// However a staff is changed, somebody who runs the shop remains, and an owner where there was one.
func TestTheShopIsNeverLeftAlone(t *testing.T) {
	for seed := range int64(300) {
		dice := rand.New(rand.NewSource(seed))
		staff := []Member{{"0", Owner, true}}
		if seed%2 == 0 {
			staff[0].Role = Lead
		}
		owned := staff[0].Role == Owner
		for range 60 {
			by := staff[dice.Intn(len(staff))]
			if !by.Active || !by.Role.Leads() {
				continue
			}
			to := Member{string(rune('0' + dice.Intn(6))), Roles[dice.Intn(len(Roles))], dice.Intn(3) > 0}
			if CheckChange(staff, by, to) != nil {
				continue
			}
			kept := []Member{to}
			for _, m := range staff {
				if m.ID != to.ID {
					kept = append(kept, m)
				}
			}
			staff = kept
			leads, owners := 0, 0
			for _, m := range staff {
				if m.Active && m.Role.Leads() {
					leads++
				}
				if m.Active && m.Role == Owner {
					owners++
				}
			}
			require.Positive(t, leads, "seed %d", seed)
			require.True(t, owners > 0 == owned, "seed %d: owners come only from owners", seed)
		}
	}
}

func TestRights(t *testing.T) {
	assert.True(t, Owner.May(Export))
	assert.False(t, Lead.May(Export))
	assert.False(t, Trainee.May(Audit))
	assert.False(t, Owner.May("fly"), "what is not in the table is nobody's")
	for _, r := range Lead.Rights() {
		assert.True(t, Owner.May(r), "an owner may whatever a lead may: %s", r)
	}
	for _, r := range Roles {
		assert.True(t, r.May(See), string(r))
	}
	for _, needs := range []Right{Set, SignOff, SignAudit, KeepPeople, Write, Export, Forget, Correct} {
		assert.True(t, needs.Grant().Password, "four digits are not enough to %s", needs)
	}
	for _, wet := range []Right{See, Wash, LookOver, Audit, Practise, RunTheDay} {
		assert.False(t, wet.Grant().Password, "wet hands %s by four digits", wet)
	}
}

// docs/rights.md prints the table that the server asks; UPDATE=1 writes it.
func TestTheRightsArePrinted(t *testing.T) {
	const path = "../../docs/rights.md"
	want := "# Who may do what\n\nThis is the table that the server asks (core/shop/rights.go); a test holds this " +
		"page to it, and" +
		" another walks every operation\nas every role. On a shared tablet people sign in by four digits; what " +
		"asks for the password" +
		" there says so.\n\n" + RightsTable()
	if os.Getenv("UPDATE") != "" {
		require.NoError(t, os.WriteFile(path, []byte(want), 0o644))
	}
	printed, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, want, string(printed), "run UPDATE=1 go test ./core/shop")
}

func TestSignInNames(t *testing.T) {
	for text, want := range map[string]string{" Maren ": "maren", "j.dunn": "j.dunn", "Åse-2": "åse-2"} {
		got, err := ParseSignIn(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got)
	}
	for _, text := range []string{"", "a", "two words", "a/b", strings.Repeat("a", 41)} {
		_, err := ParseSignIn(text)
		assert.ErrorContains(t, err, "letters", text)
	}
}

func TestPasswordsAndDigits(t *testing.T) {
	for _, good := range []string{"gravel lantern quay", "Tern-over-the-9-quays", "mitt4bucket!sluice"} {
		assert.NoError(t, CheckPassword(good, "maren", "Maren Tolley", "saltwater"), good)
	}
	for _, first := range []string{"passwordpassword", "1234567890", "P@ssw0rd1234", "qwertyuiop1", "Welcome2026!", "Summer-2026-summer",
		"tolley19841984", "letmein12345", "maren.tolley.1"} {
		assert.Error(t, CheckPassword(first, "maren", "Maren Tolley"), first)
	}
	for password, says := range map[string]string{"short": "at least 10", "saltwater1": "published",
		"maren12345": "too close to the sign-in name", "aaaaaaaaaaab": "letters repeated", strings.Repeat("ab3d", 60): "200 letters at most"} {
		assert.ErrorContains(t, CheckPassword(password, "maren", "", "saltwater1"), says, password)
	}
	for _, digits := range []string{"4071", "1357", "9012", "1224"} {
		assert.NoError(t, CheckDigits(digits), digits)
	}
	for _, digits := range []string{"", "12a4", "407", "40715", "0000", "1234", "9876", " 123"} {
		assert.Error(t, CheckDigits(digits), digits)
	}
}

// Digits are drawn from all that are not guessed first, and evenly.
func TestDigitsAreDrawn(t *testing.T) {
	next := -1
	seen := map[string]bool{}
	for range 9_970 {
		digits := DrawDigits(func(n int) int { next++; return next % n })
		assert.NoError(t, CheckDigits(digits), digits)
		seen[digits] = true
	}
	assert.Greater(t, len(seen), 9_900)
}

func TestInitials(t *testing.T) {
	for name, want := range map[string]string{"Maren Tolley": "MT", "osk": "O", "Åse van der Berg": "ÅB", "": "?", "J. Dunn": "JD"} {
		assert.Equal(t, want, Initials(name))
	}
}

// A code is read however it is typed (Crockford's base 32: O is 0, I and L are 1).
func TestCodesAreReadAsTyped(t *testing.T) {
	code := Code([CodeBytes]byte{0, 1, 10, 31, 32, 200, 77, 255})
	assert.Equal(t, "01AZ-08DZ", code)
	for _, typed := range []string{"01AZ-08DZ", "oiaz08dz", " o1az o8dz ", "OLAZ-O8DZ"} {
		read, ok := ReadCode(typed)
		assert.True(t, ok, typed)
		assert.Equal(t, code, read)
	}
	for _, typed := range []string{"", "01AZ", "01AZ-08DZ-1", "01AZ-08D!", "UUUU-UUUU"} {
		_, ok := ReadCode(typed)
		assert.False(t, ok, typed)
	}
}

func FuzzReadCode(f *testing.F) {
	f.Add("01AZ-08DZ")
	f.Fuzz(func(t *testing.T, text string) {
		read, ok := ReadCode(text)
		if !ok {
			return
		}
		again, fine := ReadCode(read)
		if !fine || again != read {
			t.Errorf("%q read as %q, then as %q", text, read, again)
		}
	})
}
