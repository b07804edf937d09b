package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// TestScreenshots refreshes the pictures of the main views from the demo data: ./run shots.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("USKEL_SHOTS")
	if dir == "" {
		dir = t.TempDir() // the views are still opened and must hold no error
	}
	s := open(t)
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
	shoot(lead, "plan")

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
	lead.click("button", "Walk round")
	lead.see("h2", "Checklist")
	lead.zone("lower-left")
	lead.click("button", "^Finding$")
	shoot(lead, "audit")
	lead.visit("/times")
	lead.see("h2", "Stages against plan")
	shoot(lead, "times")
	lead.visit("/shelf")
	lead.see("h2", "Mixing bench")
	shoot(lead, "shelf")
	lead.visit("/settings")
	lead.see("h2", "The shop")
	shoot(lead, "settings")
	lead.visit("/training")
	lead.see("h2", "Mitt drill")
	shoot(lead, "training")
	lead.click("button", "^Start$")
	lead.see("h2", "Next move")
	lead.zone("roof")
	lead.click("button", "Wash it")
	lead.see("p[role=status]", "This face met")
	lead.zone("bonnet")
	shoot(lead, "mitt-drill")
	lead.quiet()

	washer := s.as("osk", phone)
	washer.visit("/bay")
	washer.click("a", "Coated electric saloon")
	washer.see("span", ":")
	shoot(washer, "bay-phone")
	washer.quiet()

	dark := s.as("osk", phone)
	require.NoError(t, proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme", Value: "dark"}}}.Call(dark))
	dark.visit("/bay")
	dark.click("a", "Coated electric saloon")
	dark.see("span", ":")
	shoot(dark, "bay-phone-dark")
}
