package audit

import (
	"encoding/csv"
	"encoding/json"
	"math/rand"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// What Uskel begins with holds, says of every look when it is done, and comes back from a document as it went.
func TestStartersHold(t *testing.T) {
	ids := map[string]bool{}
	for _, c := range Starters() {
		require.NoError(t, c.Check(), c.ID)
		assert.False(t, ids[c.ID])
		ids[c.ID] = true
		for _, d := range Sense(c) {
			assert.Empty(t, d.Items, "%s: %s", c.ID, d.Says) // a list may leave parts of the car out, its items are sound
		}
		text, err := json.Marshal(c)
		require.NoError(t, err)
		var back Checklist
		require.NoError(t, json.Unmarshal(text, &back))
		assert.Empty(t, back.Differs(c))
	}
	assert.LessOrEqual(t, len(spotCheck().Items), 5, "two minutes")
}

// The list that was written for such washes comes first, then the one for the method, then the one for any; what is taken on
// request is never taken unasked.
func TestTheListOfAWash(t *testing.T) {
	trainee := condition.Facts{condition.TraineeWashes: {Text: "yes"}}
	somebody := condition.Facts{condition.TraineeWashes: {Text: "no"}}
	for _, c := range []struct {
		family string
		facts  condition.Facts
		want   string
	}{
		{"F3", somebody, "final-walk"}, {"F3", trainee, "trainee-walk"}, {"F10", somebody, "touchless-walk"},
		{"F13", somebody, "rinseless-walk"}, {"F13", trainee, "trainee-walk"}, {"F3", nil, "final-walk"},
	} {
		got, ok := For(Starters(), c.family, c.facts)
		require.True(t, ok)
		assert.Equal(t, c.want, got.ID, c.family)
	}
	_, ok := For([]Checklist{spotCheck()}, "F3", nil)
	assert.False(t, ok)
}

// Two drips are let pass, three are not, nor a drip with a fault; a share must be said to be let pass.
func TestWhatAnItemLetsPass(t *testing.T) {
	drips := func(amount float64, s Severity) Finding {
		return Finding{Zone: vehicle.MirrorLeft, Kind: Drips, Severity: s, Amount: amount}
	}
	film := func(amount float64) Finding {
		return Finding{Zone: vehicle.UpperLeft, Kind: DirtLeft, Severity: Minor, Amount: amount}
	}
	touchless := touchlessWalk()
	for name, c := range map[string]struct {
		list    Checklist
		item    string
		found   []Finding
		counted int
	}{
		"one, unsaid":       {Starter(), "front", []Finding{drips(0, Minor)}, 0},
		"two":               {Starter(), "front", []Finding{drips(2, Minor)}, 0},
		"two, one by one":   {Starter(), "front", []Finding{drips(0, Minor), drips(0, Minor)}, 0},
		"three":             {Starter(), "front", []Finding{drips(3, Major)}, 1},
		"two and one":       {Starter(), "front", []Finding{drips(2, Minor), drips(0, Minor)}, 2},
		"damage":            {Starter(), "front", []Finding{drips(1, Critical)}, 1},
		"elsewhere":         {Starter(), "lower", []Finding{drips(1, Minor)}, 1},
		"a tenth of film":   {touchless, "loose", []Finding{film(10)}, 0},
		"more of it":        {touchless, "loose", []Finding{film(12)}, 1},
		"film, no share":    {touchless, "loose", []Finding{film(0)}, 1},
		"other than is let": {touchless, "spots", []Finding{{Zone: vehicle.Roof, Kind: Spots, Severity: Minor, Amount: 1}}, 1},
	} {
		answers := map[string]Answer{}
		for _, i := range c.list.Items {
			answers[i.ID] = Answer{Verdict: Pass}
		}
		answers[c.item] = found(c.found...)
		r := Judge(c.list, answers, washed, Walked{})
		counted := 0
		for _, f := range r.Findings {
			if f.Counts {
				counted++
			} else {
				assert.Contains(t, f.Cause, "let pass by the list", name)
			}
		}
		assert.Equal(t, c.counted, counted, name)
	}
}

// An item of weight 2 takes off twice as much.
func TestWeights(t *testing.T) {
	list := Starter()
	list.Items[2].Weight = 2 // lower
	dirt := Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Major}
	r := Judge(list, all(map[string]Answer{"lower": found(dirt)}), washed, Walked{})
	assert.Equal(t, 70, r.Score)
	assert.Contains(t, r.Because, "100 less 30")
	assert.False(t, r.Passed)
}

// Too little looked at is no pass: by hand, by the dark, or not at all. What the wash does not ask for is not missed.
func TestTooLittleLookedAtPassesNothing(t *testing.T) {
	list := Starter() // of a wash without tips: ten looks
	list.Items = slices.DeleteFunc(list.Items, func(i Item) bool { return i.ID == "tips" })
	not := Answer{Verdict: NotApplicable, Note: "towed away"}
	r := Judge(list, all(map[string]Answer{"tyres": not, "glass": not, "shuts": not}), washed, Walked{})
	assert.True(t, r.Passed)
	assert.InDelta(t, 0.7, r.Seen, 1e-9)
	r = Judge(list, all(map[string]Answer{"tyres": not, "glass": not, "shuts": not, "water": not}), washed, Walked{})
	assert.True(t, r.Incomplete)
	assert.False(t, r.Passed)
	assert.Contains(t, r.Because, "60 % of the list was looked at")

	r = Judge(list, all(nil), washed, Walked{Light: Dusk})
	assert.Equal(t, []string{"upper", "glass"}, r.TooDark)
	assert.InDelta(t, 0.8, r.Seen, 1e-9)
	assert.True(t, r.Passed, "the rest was seen")
	dark := Judge(rinselessWalk(), map[string]Answer{}, washed, Walked{Light: Dusk, Skips: map[string]string{"shuts": "why"}})
	assert.NotContains(t, dark.Open, "marks")
	assert.NotContains(t, dark.Open, "shuts")
	assert.Len(t, dark.Open, 3)

	skips := map[string]string{"tyres": "", "glass": "", "shuts": "", "water": "", "edges": ""}
	five := all(nil)
	for id := range skips {
		delete(five, id)
	}
	r = Judge(list, five, washed, Walked{Skips: skips})
	assert.True(t, r.Passed)
	assert.InDelta(t, 1, r.Seen, 1e-9)

	assert.ErrorContains(t, Answer{Verdict: NotApplicable}.Check(), "note")
}

// Marks that are seen at dusk are seen all the same.
func TestWhatIsSeenAtDuskCounts(t *testing.T) {
	scratch := Finding{Zone: vehicle.Bonnet, Kind: FineCircles, Severity: Major}
	r := Judge(Starter(), all(map[string]Answer{"upper": found(scratch)}), washed, Walked{Light: Dusk})
	assert.Equal(t, 85, r.Score)
	assert.Equal(t, []string{"glass"}, r.TooDark)
}

func TestListsAreChecked(t *testing.T) {
	bad := func(change func(*Checklist)) error {
		c := Starter()
		change(&c)
		return c.Check()
	}
	for says, change := range map[string]func(*Checklist){
		"id":                   func(c *Checklist) { c.ID = "Über uns" },
		"title":                func(c *Checklist) { c.Title = " " },
		"items: at least":      func(c *Checklist) { c.Items = nil },
		"is used twice":        func(c *Checklist) { c.Items[1].ID = c.Items[0].ID },
		"items[1].title":       func(c *Checklist) { c.Items[1].Title = "" },
		"items[1].zones":       func(c *Checklist) { c.Items[1].Zones = procedure.ChosenZones },
		"items[1].weight":      func(c *Checklist) { c.Items[1].Weight = 4 },
		"items[1].kinds[0]":    func(c *Checklist) { c.Items[1].Kinds = []Kind{"ghost"} },
		"items[1].usual":       func(c *Checklist) { c.Items[1].Usual = map[Kind]Severity{Drips: Major} },
		"items[3].lets[0].kin": func(c *Checklist) { c.Items[3].Lets = []Let{{BrakeDust, 1, InNumber}} },
		"items[3].lets[0].uni": func(c *Checklist) { c.Items[3].Lets = []Let{{Drips, 1, "spoons"}} },
		"items[3].lets[0].mos": func(c *Checklist) { c.Items[3].Lets = []Let{{Drips, 101, InNumber}} },
	} {
		assert.ErrorContains(t, bad(change), says)
	}
}

func TestADifferenceInWords(t *testing.T) {
	was := Starter()
	now := Starter()
	now.Items[0].Done = "The edge is white."
	now.Items[3].Lets = []Let{{Drips, 1, InNumber}}
	now.Items[2].Weight = 2
	now.Items[1], now.Items[4] = now.Items[4], now.Items[1]
	now.Items = append(now.Items[:9:9], Item{ID: "hinges", Title: "Hinges", Zones: procedure.AllShuts})
	assert.ElementsMatch(t, []string{
		"Drying towel and buckets: done when: The edge is white.",
		"Front bumper, grille and mirrors: lets pass drips: up to 1.",
		"Sills, behind the wheels, rear bumper: weighs 2, was 1.",
		"They are walked in another order.",
		"New: Hinges.",
		"No longer looked at: Exhaust tips.",
		"No longer looked at: What water does.",
	}, now.Differs(was))
	assert.Empty(t, was.Differs(was))
}

func TestAnItemOfOneSide(t *testing.T) {
	left := Item{Zones: procedure.PaintOnly, Side: vehicle.LeftSide}
	assert.Equal(t, []vehicle.Zone{vehicle.MirrorLeft, vehicle.UpperLeft, vehicle.LowerLeft}, left.On(vehicle.Hatch))
}

// Worked by hand: front, left, rear, right is three sides; front, rear, left, right is two, one and two.
func TestTheWayRound(t *testing.T) {
	side := func(s vehicle.Side) Item {
		return Item{ID: string(s), Title: string(s), Zones: procedure.PaintOnly, Side: s, Kinds: []Kind{DirtLeft}, Done: "clean"}
	}
	list := func(sides ...vehicle.Side) Checklist {
		c := Checklist{ID: "x", Title: "x"}
		for _, s := range sides {
			c.Items = append(c.Items, side(s))
		}
		return c
	}
	inOrder := list(vehicle.FrontSide, vehicle.LeftSide, vehicle.RearSide, vehicle.RightSide).Walk()
	assert.InDelta(t, 3*sideApart, inOrder.Metres, 1e-9)
	assert.InDelta(t, 3*sideApart, inOrder.Least, 1e-9)
	across := list(vehicle.FrontSide, vehicle.RearSide, vehicle.LeftSide, vehicle.RightSide)
	w := across.Walk()
	assert.InDelta(t, 5*sideApart, w.Metres, 1e-9)
	assert.InDelta(t, 3*sideApart, w.Least, 1e-9)
	doubts := Sense(across)
	assert.Contains(t, doubts[len(doubts)-1].Says, "one walks 20 m round the car")
}

// The way found is never longer than the list's, and no order of a small list, all tried, is shorter.
func TestTheBestWayAgainstTryingEveryOrder(t *testing.T) {
	sides := []vehicle.Side{vehicle.FrontSide, vehicle.LeftSide, vehicle.RearSide, vehicle.RightSide}
	missed := 0
	for seed := range int64(60) {
		r := rand.New(rand.NewSource(seed))
		var items []Item
		for range 5 {
			items = append(items, Item{Title: "x", Zones: procedure.PaintOnly, Side: sides[r.Intn(4)]})
		}
		w := Checklist{Items: items}.Walk()
		assert.LessOrEqual(t, w.Least, w.Metres)
		best := walked(items)
		orders(items, func(order []Item) { best = min(best, walked(order)) })
		assert.GreaterOrEqual(t, w.Least, float64(best)*sideApart-1e-9)
		if w.Least > float64(best)*sideApart+1e-9 {
			missed++
		}
	}
	assert.LessOrEqual(t, missed, 3, "moving single items finds the best order nearly always")
}

func orders(items []Item, try func([]Item)) {
	var rec func(k int)
	rec = func(k int) {
		if k == len(items) {
			try(items)
			return
		}
		for i := k; i < len(items); i++ {
			items[k], items[i] = items[i], items[k]
			rec(k + 1)
			items[k], items[i] = items[i], items[k]
		}
	}
	rec(0)
}

func TestDoubtsAboutAList(t *testing.T) {
	c := Checklist{ID: "x", Title: "x", Items: []Item{
		{ID: "a", Title: "Roof", Zones: procedure.UpperPaint, Done: "clean"},
		{ID: "b", Title: "Sills", Zones: procedure.LowerHalf, Kinds: []Kind{DirtLeft, Spots}, Done: "white cloth"},
		{ID: "c", Title: "Sills again", Zones: procedure.LowerHalf, Kinds: []Kind{Spots}},
	}}
	var says []string
	for _, d := range Sense(c) {
		says = append(says, d.Says)
	}
	assert.Contains(t, says, `Nobody can fail "Roof": say what it may find.`)
	assert.Contains(t, says, `"Sills again" does not say when it is done: two people may answer it differently.`)
	assert.Contains(t, says, `"Sills" and "Sills again" look for the same: spots or streaks.`)
	assert.Contains(t, says[len(says)-1], "No item looks at: ")
	assert.Contains(t, says[len(says)-1], "exhaust tips")
}

func TestAListAsText(t *testing.T) {
	c := traineeWalk()
	text := c.Markdown()
	for _, line := range []string{"# Trainee's walk", "Version 1, for every wash, ", "2. **Bonnet, front bumper and grille** (paint, front)",
		"   - Finds: dirt left (major), spots or streaks, fine circles (major), straight fine lines", "   - Lets pass: drips: up to 2",
		"   - Light: not at dusk"} {
		assert.Contains(t, text, line)
	}
	rows, err := csv.NewReader(strings.NewReader(c.CSV())).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, len(c.Items)+1)
	assert.Equal(t, []string{"3", "Left side", "paint, left side"}, rows[3][:3])
	assert.Equal(t, "yes", rows[3][8])
}

// A finding that wants a photo is unproven until one was taken there; a pass wants none.
func TestWhatWantsAPhoto(t *testing.T) {
	list := Starter()
	list.Items[0].Photo, list.Items[1].Photo = true, true
	dirt := found(Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Minor})
	answers := all(map[string]Answer{list.Items[0].ID: dirt, list.Items[2].ID: dirt})
	assert.Equal(t, []string{list.Items[0].ID}, list.Unproven(answers, []string{list.Items[2].ID}))
	assert.Empty(t, list.Unproven(answers, []string{list.Items[0].ID}))
	assert.Contains(t, strings.Join(list.Differs(Starter()), " "), "a finding wants a photo")
}

// What a service delivers and no look sees is doubted, for the services that the list is for.
func TestWhatIsOrderedAndNotLookedAt(t *testing.T) {
	menu := condition.Menu{{ID: "a", Name: "Signature", Families: []string{"F3"}, Tips: true, Inside: true, Tyres: condition.SatinTyres,
		Takes: []condition.Matter{condition.Bugs}}, {ID: "b", Name: "Rinseless", Families: []string{"F13"}, Tips: true}}
	assert.Empty(t, Unlooked(Starter(), menu), "the final walk looks at all of it")
	bare := Checklist{ID: "bare", Title: "Bare", Items: []Item{
		{ID: "paint", Title: "Paint", Zones: procedure.PaintOnly, Kinds: []Kind{Spots}}}}
	var says []string
	for _, d := range Unlooked(bare, menu) {
		says = append(says, d.Says)
	}
	assert.Equal(t, []string{"No item looks at exhaust tips, ordered with Signature, Rinseless.",
		"No item looks at dressed tyres, ordered with Signature.", "No item looks at the inside, ordered with Signature.",
		"No item looks at whether bonded matter came off, ordered with Signature."}, says)
	bare.Families = []string{"F13"}
	assert.Len(t, Unlooked(bare, menu), 1, "Signature is not washed so")
	bare.At = BeforeDrying
	assert.Empty(t, Unlooked(bare, menu))
}
