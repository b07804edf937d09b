package cases

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/prove"
	"uskel/core/recall"
)

// seen is what a case shows, as one text.
func (c Case) seen() string { return strings.Join(c.Scene, "\n") }

// shows reports whether the scene has some words.
func (c Case) shows(words string) bool { return strings.Contains(c.seen(), words) }

// read is the first number after some words of the scene.
func (c Case) read(t *testing.T, pattern string) float64 {
	t.Helper()
	m := regexp.MustCompile(pattern).FindStringSubmatch(c.seen())
	require.NotNil(t, m, "%s in %q", pattern, c.seen())
	x, err := strconv.ParseFloat(m[1], 64)
	require.NoError(t, err)
	return x
}

// pick is the index that a rule of the trade asks for: the first where it holds.
func pick(first bool) int {
	if first {
		return 0
	}
	return 1
}

// says checks the words of the right choice.
func says(words string) func(*testing.T, Case) {
	return func(t *testing.T, c Case) { assert.Contains(t, c.Choices[c.Answer.Choice], words, c.seen()) }
}

func either(t *testing.T, c Case, first bool, yes, no string) {
	t.Helper()
	if first {
		says(yes)(t, c)
	} else {
		says(no)(t, c)
	}
}

const (
	overall = `Overall grade (\d)`
	lower   = `lower parts (\d)`
)

// confirmed are the answers worked out again, from what the trainee sees and nothing else where that is enough: the rules
// of docs/trade.md, sections 5 to 8 and 16 to 19, in the simplest words that give them.
var confirmed = map[string]func(*testing.T, Case){
	"rinse-before-foam": func(t *testing.T, c Case) { either(t, c, c.shows("Lumps"), "Rinse first", "Foam the dry paint") },
	"wheels-or-foam":    func(t *testing.T, c Case) { either(t, c, c.shows("take less"), "During foam", "First") },
	"foam-from":         func(t *testing.T, c Case) { either(t, c, c.read(t, `wet ([\d.]+) min`) <= 5, "Top", "Bottom") },
	"over-foam": func(t *testing.T, c Case) {
		either(t, c, c.read(t, overall) >= 2, "Rinse first", "Over the foam")
	},
	"drying-aid": func(t *testing.T, c Case) { either(t, c, c.shows("lies flat") || c.shows("Dark"), "Yes", "No") },
	"brush-when": func(t *testing.T, c Case) {
		either(t, c, c.read(t, overall) >= 2, "In the contact wash", "In the pre-wash")
	},
	"which-method": func(t *testing.T, c Case) {
		grade, low := c.read(t, overall), c.read(t, lower)
		shaded := !c.shows("under open sky")
		fits := []string{}
		if grade == 0 && low <= 1 && shaded {
			fits = append(fits, "Waterless")
		}
		if grade <= 2 && shaded {
			fits = append(fits, "Rinseless")
		}
		if grade <= 2 && !c.shows("no protection") && c.shows("water beads") {
			fits = append(fits, "Touchless")
		}
		switch len(fits) {
		case 0:
			says("None")(t, c)
		case 1:
			says(fits[0])(t, c)
		default:
			t.Errorf("%v fit: %s", fits, c.seen())
		}
	},
	"in-scope": func(t *testing.T, c Case) {
		for _, s := range condition.StarterMenu() {
			if c.shows("Ordered: " + s.Name + "\n") {
				takes := slices.ContainsFunc(s.Takes, func(m condition.Matter) bool { return c.shows("you find " + string(m) + " on") })
				assert.Equal(t, pick(takes), c.Answer.Choice, c.seen())
				return
			}
		}
		t.Errorf("no such service: %s", c.seen())
	},
	"leave-out": func(t *testing.T, c Case) {
		for i, choice := range c.Choices {
			never := slices.Contains([]string{"The rinse before the mitt", "Rinsing the mitt", "The final rinse", "Drying"}, choice)
			assert.Equal(t, i == c.Answer.Choice, !never, "%v", c.Choices)
		}
	},
	"mitts": func(t *testing.T, c Case) { assert.Equal(t, pick(c.read(t, lower) < 3), c.Answer.Choice, c.seen()) },
	"rinses": func(t *testing.T, c Case) { // the plan's own moves, counted
		made, mitt := standardWash(*c.job)
		require.NotNil(t, mitt)
		n := 0
		for _, m := range mitt.Contact.Moves {
			if m.Kind == contact.RubGuard || m.Kind == contact.SwishOnly {
				n++
			}
		}
		assert.EqualValues(t, n, made.Rinses)
		assert.EqualValues(t, n, c.Answer.Number)
	},
	"panels": func(t *testing.T, c Case) { // the sum from what is shown, and never more than the whole car
		n := (0.9*c.read(t, `wet ([\d.]+) min`) - 1) / c.read(t, `takes ([\d.]+) min`)
		_, mitt := standardWash(*c.job)
		whole := math.Ceil(mitt.Area / 0.8)
		assert.InDelta(t, min(max(1, math.Floor(n)), whole), c.Answer.Number, c.Answer.Within, c.seen())
	},
	"citrus": func(t *testing.T, c Case) {
		assert.EqualValues(t, max(0, c.read(t, lower)-2), c.Answer.Choice, c.seen())
	},
	"short-label": func(t *testing.T, c Case) { // a clock that walks round the car
		at, on := measure.Seconds(0), [4]measure.Seconds{}
		for k := range on {
			at += 18
			on[k] = at
			at += 4
		}
		longest := measure.Seconds(0)
		for k := range on {
			at += 45
			longest = max(longest, at-on[k])
			at += 4
		}
		assert.Equal(t, pick(longest <= measure.Seconds(c.was["label"])), c.Answer.Choice, c.seen())
	},
	"wait-or-rinse": func(t *testing.T, c Case) {
		on, want := c.was["on"], 1
		switch {
		case on > c.was["window"]:
			want = 2
		case on < c.was["from"]:
			want = 0
		case on > c.was["to"]:
			t.Errorf("over its label and wet: %s", c.seen())
		}
		assert.Equal(t, want, c.Answer.Choice, c.seen())
	},
	"dries-first": func(t *testing.T, c Case) {
		assert.Equal(t, pick(c.read(t, `stays wet ([\d.]+) min`) >= 6), c.Answer.Choice, c.seen())
	},
	"sun-label": func(t *testing.T, c Case) {
		never := c.shows("never in the sun") && c.shows("in the open") && c.shows("sun is out")
		assert.Equal(t, pick(!never), c.Answer.Choice, c.seen())
	},
	"water-flat": func(t *testing.T, c Case) {
		want := 0
		if c.shows("A coating") {
			want = 1
			if c.read(t, `(\d+) months`) >= 12 {
				want = 2
			}
		}
		assert.Equal(t, want, c.Answer.Choice, c.seen())
	},
	"towels": func(t *testing.T, c Case) {
		full := c.read(t, `([\d.]+) l of water`) / c.read(t, `holds ([\d.]+) l`)
		assert.Equal(t, pick(full < 0.6), c.Answer.Choice, "%.2f: %s", full, c.seen())
	},
	"dropped": says("spare"),
	"mixed-up": func(t *testing.T, c Case) {
		assert.Equal(t, pick(c.shows("seated") && c.shows("light car")), c.Answer.Choice, c.seen())
	},
	"guard": func(t *testing.T, c Case) { // what is stirred up with each visit, grain by grain as the tale has it
		tale := contact.TellBucket(measure.Celsius(c.was["water"]))
		n := int(c.was["n"])
		assert.Equal(t, pick(tale.Bare[n] < 2*tale.Guarded[n]), c.Answer.Choice, c.seen())
	},
	"two-readings": func(t *testing.T, c Case) {
		parts := c.was["n"] + 1 - c.was["in"]
		assert.InDelta(t, c.read(t, `filled to (\d+) ml`)/parts, c.Answer.Number, 0.01, c.seen())
	},
	"part-full": func(t *testing.T, c Case) {
		assert.InDelta(t, 1000*c.read(t, `are (\d+) l`)/c.read(t, `1 part to (\d+)`), c.Answer.Number, 0.01)
	},
	"caps": func(t *testing.T, c Case) {
		assert.InDelta(t, c.read(t, `plan: (\d+) ml`)/c.read(t, `holds (\d+) ml`), c.Answer.Number, 0.01)
	},
	"ounces": func(t *testing.T, c Case) {
		assert.InDelta(t, 29.5735*c.read(t, `says (\d+) US`), c.Answer.Number, 0.01)
	},
	"on-panel": func(t *testing.T, c Case) {
		litres := 1 + c.was["minutes"]*c.was["flow"]
		assert.InEpsilon(t, c.was["product"]/litres/10, c.Answer.Number, 0.02, c.seen())
	},
	"weight": func(t *testing.T, c Case) { assert.InDelta(t, c.read(t, `are (\d+) l`)+1, c.Answer.Number, 0.01) },
	"pressure": func(t *testing.T, c Case) {
		psi := 0.0
		if c.shows("psi") {
			psi = c.read(t, `plate: (\d+) psi`)
		} else {
			psi = c.read(t, `plate: (\d+) bar`) * 14.5038
		}
		assert.Equal(t, pick(psi <= 2030), c.Answer.Choice, c.seen())
	},
	"rain": func(t *testing.T, c Case) {
		wet := c.shows("through the rain") && (c.shows("quarter") || c.shows("half"))
		assert.Equal(t, pick(!wet), c.Answer.Choice, c.seen())
	},
	"cover": func(t *testing.T, c Case) {
		assert.Equal(t, pick(c.shows("laundered") && !c.shows("windy")), c.Answer.Choice, c.seen())
	},
}

// Every kind a thousand times over all levels: it can be answered, there is one right answer, nothing is left empty, and
// the answer is what the rules of the trade give.
func TestEveryKindAThousandTimes(t *testing.T) {
	require.GreaterOrEqual(t, len(Kinds()), 20)
	slow := []string{"rinses", "panels", "leave-out", "dries-first", "which-method"} // they fill whole plans
	for _, k := range Kinds() {
		t.Run(k.ID, func(t *testing.T) {
			t.Parallel()
			check := confirmed[k.ID]
			require.NotNil(t, check, "nothing confirms it")
			seeds, right := int64(prove.Seeds(t, 1000)), map[int]int{}
			for seed := range seeds {
				c, err := Make(k.ID, seed, 1+int(seed)%Hardest, World{Menu: condition.StarterMenu()})
				require.NoError(t, err, "seed %d", seed)
				complete(t, c)
				right[c.Answer.Choice]++
				if !slices.Contains(slow, k.ID) || seed%10 == 0 {
					check(t, c)
				}
				if t.Failed() {
					t.Fatalf("seed %d", seed)
				}
			}
			if len(right) > 1 {
				for choice, n := range right {
					assert.Greater(t, 50*n, int(seeds), "choice %d is hardly ever right", choice)
				}
			}
		})
	}
}

// complete checks that a case can be put to somebody.
func complete(t *testing.T, c Case) {
	t.Helper()
	assert.NotEmpty(t, c.Ask)
	assert.NotEmpty(t, c.Scene)
	assert.NotEmpty(t, c.Answer.Because)
	assert.NotEmpty(t, c.Answer.Source)
	assert.Contains(t, procedure.Skill("").Values(), string(c.Skill))
	if len(c.Choices) == 0 {
		assert.NotEmpty(t, c.Unit)
		right, err := c.Judge(Given{Number: &c.Answer.Number})
		assert.NoError(t, err)
		assert.True(t, right)
		double := c.Answer.Number*2 + 3
		wrong, _ := c.Judge(Given{Number: &double})
		assert.False(t, wrong)
		return
	}
	assert.GreaterOrEqual(t, len(c.Choices), 2)
	assert.LessOrEqual(t, len(c.Choices), 4)
	rights, seen := 0, map[string]bool{}
	for i, choice := range c.Choices {
		assert.NotEmpty(t, choice)
		assert.False(t, seen[choice], "twice: %s", choice)
		seen[choice] = true
		if ok, err := c.Judge(Given{Choice: &i}); assert.NoError(t, err) && ok {
			rights++
		}
	}
	assert.Equal(t, 1, rights, "one right answer")
}

// The same seed gives the same case; the shop's own school is right, and the other is told.
func TestCasesFollowTheShop(t *testing.T) {
	a, err := Make("over-foam", 5, 2, World{})
	require.NoError(t, err)
	b, _ := Make("over-foam", 5, 2, World{})
	assert.Equal(t, a.Scene, b.Scene)
	assert.Equal(t, a.Choices, b.Choices)
	for seed := range int64(40) {
		c, err := Make("brush-when", seed, 1, World{Pins: procedure.Pins{condition.BrushWhen: condition.InPrewash}})
		require.NoError(t, err)
		assert.Equal(t, "In the pre-wash", c.Choices[c.Answer.Choice], "as the shop does it")
		assert.Contains(t, c.Answer.Other, "contact")
	}
	_, err = Make("none", 1, 1, World{})
	assert.ErrorContains(t, err, `kind: "none"`)
}

func TestAnswersOfTheWrongForm(t *testing.T) {
	choice, err := Make("dropped", 1, 1, World{})
	require.NoError(t, err)
	sum, err := Make("ounces", 1, 1, World{})
	require.NoError(t, err)
	far, nan := 9, math.NaN()
	for _, wrong := range []struct {
		c Case
		g Given
	}{{choice, Given{}}, {choice, Given{Choice: &far}}, {sum, Given{}}, {sum, Given{Number: &nan}}} {
		_, err := wrong.c.Judge(wrong.g)
		assert.Error(t, err, fmt.Sprintf("%+v", wrong.g))
	}
	assert.Equal(t, []recall.Rating{recall.Wrong, recall.Slow, recall.Right, recall.Swift},
		[]recall.Rating{Given{}.Rated(false), Given{Unsure: true}.Rated(true), Given{}.Rated(true), Given{Millis: 3000}.Rated(true)})
}
