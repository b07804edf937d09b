package visit

import (
	"errors"
	"fmt"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The usual way, and what may go otherwise (common practice, no source).
func TestTheWaysOfAVehicle(t *testing.T) {
	for _, way := range []struct {
		moves []Move
		to    Stage
	}{
		{[]Move{LookOver, LookOver, Arrange, Begin, Finish, StartAudit, Pass, HandOver}, HandedOver},
		{[]Move{LookOver, Begin, Finish, StartAudit, AskRework, EndRework}, Ready},
		{[]Move{LookOver, Begin, Finish, StartAudit, AskRework, CheckRework, StartAudit, Pass}, Ready},
		{[]Move{LookOver, Begin, Finish, StartAudit, Fail}, Failed},
		{[]Move{LookOver, Begin, Finish, StartAudit, Fail, StartAudit, Pass}, Ready},
		{[]Move{LookOver, Begin, Finish, Unfinish, Finish, Release, HandOver, ComeBack, HandOver}, HandedOver},
		{[]Move{LookOver, Begin, BreakOff, HandOver}, HandedOver},
		{[]Move{Cancel}, Cancelled},
		{[]Move{NotCome}, DidNotCome},
	} {
		at := Booked
		for _, m := range way.moves {
			next, err := at.After(m)
			require.NoError(t, err, "%s from %s", m, at)
			at = next
		}
		assert.Equal(t, way.to, at, "%v", way.moves)
	}
}

func TestWhatCannotBe(t *testing.T) {
	for _, c := range []struct {
		from    Stage
		move    Move
		because string
	}{
		{Booked, Begin, "look the vehicle over first"},
		{InBay, LookOver, "the wash has begun"},
		{InBay, Arrange, "the wash has begun"},
		{InBay, Begin, "it is in the bay already"},
		{InBay, StartAudit, "the wash has begun"},
		{Auditing, Unfinish, "being audited"},
		{Ready, StartAudit, "it is ready"},
		{Failed, Pass, "did not pass"},
		{Cancelled, LookOver, "cancelled"},
		{HandedOver, Cancel, "handed over"},
		{Rework, HandOver, "put right"},
	} {
		to, err := c.from.After(c.move)
		var not *NotNow
		require.True(t, errors.As(err, &not), "%s from %s", c.move, c.from)
		assert.Contains(t, err.Error(), c.because)
		assert.Equal(t, c.from, to, "nothing moves")
	}
}

// A failed audit never tells the customer to come: only a pass, rework of a pass, or the lead's word makes a vehicle
// ready.
func TestOnlyAPassOrTheLeadMakesItReady(t *testing.T) {
	ready := map[string]bool{}
	for from, moves := range after {
		for m, to := range moves {
			if to.Here() {
				ready[fmt.Sprintf("%s: %s", from, m)] = true
			}
		}
	}
	assert.Equal(t, map[string]bool{"to audit: release without an audit": true,
		"failed: release without an audit": true, "rework: release without an audit": true,
		"being audited: pass the audit": true, "rework: end the rework": true}, ready)
	assert.Equal(t, AskRework, Signed(true, true))
	assert.Equal(t, AskRework, Signed(false, true))
	assert.Equal(t, Fail, Signed(false, false))
	assert.Equal(t, Pass, Signed(true, false))
	assert.Equal(t, CheckRework, Rework.Tapped(true, false, false), "rework of what failed is looked at again")
	assert.Equal(t, EndRework, Rework.Tapped(true, false, true))
}

func TestTapsMoveOnlyWhatIsInHand(t *testing.T) {
	assert.Equal(t, Finish, InBay.Tapped(true, false, false))
	assert.Equal(t, Finish, BrokenOff.Tapped(true, false, false), "taps made before it was broken off may come later")
	assert.Equal(t, Unfinish, ToAudit.Tapped(false, false, false))
	assert.Equal(t, ReworkAgain, Ready.Tapped(true, true, true))
	for _, s := range []Stage{Auditing, Failed, HandedOver, CameBack, Cancelled} {
		for n := range 8 {
			assert.Empty(t, s.Tapped(n&1 > 0, n&2 > 0, n&4 > 0), "%s", s)
		}
	}
}

// Whatever is said or tapped in whatever order, a vehicle stands somewhere known, and what was said last can be taken
// back once.
func TestAnyWalkStaysOnTheMap(t *testing.T) {
	known := map[Stage]bool{}
	for _, name := range Stage("").Values() {
		known[Stage(name)] = true
		require.NotEmpty(t, why[Stage(name)], "%s has words for what stands in the way", name)
	}
	all := append([]Move{LookOver, Arrange, Begin, Finish, Unfinish, StartAudit, Pass, Fail, AskRework, EndRework,
		CheckRework, ReworkAgain}, Said...)
	for seed := range int64(200) {
		dice := rand.New(rand.NewSource(seed))
		at := Booked
		for range 60 {
			m := all[dice.Intn(len(all))]
			to, err := at.After(m)
			require.True(t, known[to])
			if err != nil {
				require.Equal(t, at, to)
				continue
			}
			if to != at {
				back, err := to.Back(&Taken{m, at, to})
				require.NoError(t, err)
				require.Equal(t, at, back)
				_, err = at.Back(&Taken{m, at, to})
				require.Error(t, err, "it stands elsewhere already")
			}
			at = to
		}
	}
	_, err := Booked.Back(nil)
	assert.Error(t, err)
}

func TestWhatCanBeSaid(t *testing.T) {
	assert.Equal(t, []Move{Cancel, NotCome}, Booked.Can())
	assert.Equal(t, []Move{BreakOff}, InBay.Can())
	assert.Equal(t, []Move{HandOver}, Ready.Can())
	assert.Equal(t, []Move{ComeBack}, HandedOver.Can())
	assert.True(t, ComeBack.Reason())
	assert.False(t, HandOver.Reason())
	assert.True(t, StartAudit.Closes() && Release.Closes() && HandOver.Closes())
	assert.False(t, Finish.Closes() || BreakOff.Closes())
}

func ExampleStage_After() {
	at := Booked
	for _, m := range []Move{LookOver, Begin, Finish, StartAudit, Fail, HandOver} {
		at, _ = at.After(m)
		fmt.Println(at)
	}
	_, err := at.After(StartAudit)
	fmt.Println(err)
	// Output:
	// looked over
	// in the bay
	// to audit
	// being audited
	// failed
	// handed over
	// start the audit: it was handed over
}
