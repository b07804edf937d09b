package e2e

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/wash"
)

// Whoever puts in another amount than the plan asks says so in the bay, without a network too: the shelf counts what was put in, and the
// finished wash says what it came to.
func TestWhatWasPutInIsSaid(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b, id := far.inTheBay("osk")
	b.installed()
	w, err := s.store.Wash(context.Background(), id)
	require.NoError(t, err)
	mixed := ""
	for mixed == "" && !b.has("button", "Finish the wash") {
		b.washOn(1)
		for _, step := range w.Plan.Steps {
			if step.Title == b.heading() && w.Uses.Steps[step.ID].Put > 0 {
				mixed = step.ID
			}
		}
	}
	wire.Cut()
	b.click("button", "^Other$")
	b.click("button", "Other amount")
	b.see("p", "did you put in")
	b.accessible("other amount")
	b.keep("other-amount")
	b.fill("Amount", "123,5")
	b.click("button", "Save the amount")
	b.see("p", "You put in 124 ml")
	wire.Mend()
	b.goneNow("span", "unsent tap")
	b.washOn(60)
	b.click("button", "Finish the wash")
	b.see("p", "Products and laundering came to")
	b.goneNow("span", "unsent tap")

	w, err = s.store.Wash(context.Background(), id)
	require.NoError(t, err)
	state := wash.Fold(w.Steps(), s.log(id))
	for _, step := range state.Steps {
		if step.ID == mixed {
			require.NotNil(t, step.Poured)
			assert.InDelta(t, 123.5, *step.Poured, 1e-9)
		}
	}
	was := w.Uses.Steps[mixed]
	more := was.Products[was.Main] * (123.5/was.Put - 1)
	assert.InDelta(t, w.Uses.Products[was.Main]+more, w.Used.Products[was.Main], 0.01, fmt.Sprint(was))
}
