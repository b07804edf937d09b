package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/wash"
)

// Before it is dried the bay asks for a look: what is found is put right at once, a tap says so, and both are in the log. The step
// can be begun without; the lead's findings count what was caught.
func TestALookBeforeDrying(t *testing.T) {
	s := open(t)
	wire, far := s.through(t)
	b, id := far.inTheBay("osk")
	b.installed()
	b.gone("section[aria-label='Before drying']", ".")
	for !b.has("section[aria-label='Before drying']", "The rinse runs clear") {
		b.washOn(1)
	}
	b.see("button", "^Start$")
	b.keep("bay-look")
	wire.Cut()
	b.click("button", "^Right$")
	b.see("section[aria-label='Before drying']", "No foam in gaps")
	b.click("button", "^Foam left in gaps$")
	b.see("[role=status]", "Foam left in gaps: put it right now")
	b.keep("bay-look-found")
	b.visit("/bay/" + id)
	b.see("[role=status]", "Foam left in gaps: put it right now")
	b.click("button", "^Put right$")
	b.goneNow("section[aria-label='Before drying']", "Foam left")
	wire.Mend()
	b.run(`() => { window.dispatchEvent(new Event("online")); return Promise.resolve() }`)
	b.goneNow("span", "unsent tap")
	looks := wash.LookedAt(s.log(id))
	require.Len(t, looks, 2)
	assert.Equal(t, "foam left in gaps", looks[1].Found)
	assert.False(t, looks[1].Right.IsZero())

	lead := s.as("maren", desk)
	lead.visit("/audits/findings")
	lead.see("table", "No foam in gaps")
	lead.keep("findings-way")
	lead.quiet()
}
