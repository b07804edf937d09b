package e2e

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"uskel/demo"
	"uskel/store"
	"uskel/store/storetest"
)

// TestScreenshots refreshes the pictures of the main views from the demo data: ./run shots.
func TestScreenshots(t *testing.T) {
	dir, days := os.Getenv("USKEL_SHOTS"), demo.HalfYear
	if dir == "" {
		dir, days = t.TempDir(), demo.Fortnight // the views are still opened and must hold no error
	}
	s := openAt(
		t,
		storetest.URL(
			t,
			fmt.Sprintf("demo of %d days", days),
			func(s *store.Store) error { return demo.Load(context.Background(), s, morning, days) },
		),
	)
	lead := s.as("maren", desk)
	shoot := func(b *tab, name string) {
		b.settle()
		b.picture(filepath.Join(dir, name+".png"))
	}
	shoot(lead, "yard")

	lead.click("a", "^Look-over$")
	lead.see("h1", "Look-over")
	lead.click("tr:has(a[href*=look-over]) a", "Look again")
	lead.see("h1", "Island taxi, estate")
	lead.see("p", "overall")
	shoot(lead, "look-over")
	lead.click("button", "Save and plan")
	lead.see("h1", "Plan:")
	lead.click("fieldset button", "^Osk Pellow$")
	lead.there("[data-lane='Osk Pellow'] [data-slot]")
	lead.click("button[data-slot]", "Two-bucket wash")
	lead.see("[role=status]", "Two-bucket wash")
	shoot(lead, "plan")
	lead.visit("/day")
	lead.click("[data-visit='PLT 7']", "PLT 7")
	lead.click("button", "Find a slot")
	lead.see("ol li", "Risk of drying: ")
	shoot(lead, "day")

	lead.visit("/procedures")
	lead.see("a", "Shop maintenance wash")
	shoot(lead, "procedures")
	lead.visit("/procedures/maintenance")
	lead.click("button", "Write a new version")
	lead.see("h1", "Writing")
	lead.click("nav[aria-label=Steps] button", "^Citrus on the lower half")
	lead.see("h2", "^Citrus")
	lead.fill("Cautions, a line each", "")
	lead.see("li", "No word of gloves")
	_, err := lead.Eval(`() => { window.scrollTo(0, 0); document.activeElement.blur(); }`)
	require.NoError(t, err)
	shoot(lead, "writing")
	lead.visit("/audits")
	lead.see("h2", "Waiting")
	shoot(lead, "audits")
	lead.visit("/audits/findings?weeks=26")
	lead.see("h2", "^Who washed")
	shoot(lead, "findings")
	auditor := s.as("hesper", phone)
	auditor.visit("/audits")
	auditor.click("button", "Walk round")
	auditor.click("button", "^Lamp")
	auditor.click("button", "^Pass$")
	auditor.see("h2", "^Roof, bonnet")
	shoot(auditor, "audit")
	lead.visit("/times")
	lead.click("button", "26 weeks")
	lead.see("[role=radio][aria-checked=true]", "26 weeks")
	lead.see("h2", "Stages against standard")
	shoot(lead, "times")
	lead.click("a", "Standard times")
	lead.see("h2", "another time than the standard|No standard needs changing")
	lead.click("tr button", "^Look at")
	lead.see("button", "^Use .*: plans follow")
	lead.click("a", "^Charts$")
	lead.see("h2", "% of standard")
	lead.click("a", "^Learning$")
	lead.see("h2", "Pia Lunt")
	lead.visit("/audits/remedies")
	lead.see("h2, p", "^Dirt left on the sills$|^Nothing is taken up") // by half a year, or a fortnight
	shoot(lead, "remedies")
	lead.visit("/shelf")
	lead.see("h2", "Mixing bench")
	shoot(lead, "shelf")
	lead.visit("/settings")
	lead.see("h2", "The shop")
	shoot(lead, "settings")
	lead.visit("/training")
	lead.see("h2", "Practise by hand")
	shoot(lead, "training")
	lead.quiet()

	trainee := s.as("pia", phone)
	trainee.startByHand()
	trainee.touchStroke(0.2)
	trainee.see("p[role=status]", "front door is washed")
	shoot(trainee, "by-hand")
	trainee.practise("^Buckets$")
	trainee.does("^Rinse$", "for the rinse")
	trainee.click("button[role=radio]", "^Water$")
	for range 8 {
		trainee.click("button[aria-label='More litres']", `^\+$`)
	}
	trainee.does("Fill by hose", "of cold water")
	trainee.click("button[role=radio]", "^Guard$")
	trainee.does("Tilted and pressed", "it sits")
	shoot(trainee, "buckets")
	trainee.quiet()

	trainer := s.as("maren", phone)
	trainer.visit("/training")
	trainer.click("a", "^Watch$")
	trainer.click("div[role=group] button", "^Alone$")
	trainer.see("button[aria-pressed=true]", "^Alone$")
	shoot(trainer, "watch")
	trainer.quiet()

	washer := s.as("osk", phone)
	washer.visit("/bay")
	washer.click("a", "Coated electric saloon")
	washer.see("span", ":")
	washer.washToTheMitt()
	shoot(washer, "bay-phone")
	washer.quiet()

	shared := s.as("maren", phone)
	shared.visit("/settings/people")
	shared.fill("Name of the tablet, sensor or calendar", "Bay tablet")
	shared.click("button", "Make this browser a shared tablet")
	shared.see("p", "This browser is a shared tablet now")
	shared.visit("/settings/you")
	shared.click("button", "Sign out")
	shared.see("h1", "Who are you\\?")

	empty, code := openEmpty(t)
	founder := empty.tab(desk)
	founder.begin(code)
	founder.click("button", "^Next$")
	founder.see("h1", "Where you wash")
	founder.click("button", "^Add$")
	founder.see("span", "Name of place 2")
	shoot(founder, "set-up")
}
