package audit

import (
	"fmt"
	"strings"

	"uskel/core/table"
)

// Markdown is a list as a text to be read and put up.
func (c Checklist) Markdown() string {
	var b strings.Builder
	fmt.Fprintf(&b, "# %s\n\nVersion %d, for %s.\n", c.Title, c.Version, c.forWhom())
	if c.About != "" {
		fmt.Fprintf(&b, "\n%s\n", c.About)
	}
	for n, i := range c.Items {
		fmt.Fprintf(&b, "\n%d. **%s** (%s)\n", n+1, i.Title, where(i))
		line := func(what, text string) {
			if text != "" {
				fmt.Fprintf(&b, "   - %s: %s\n", what, text)
			}
		}
		line("How", i.How)
		line("Done when", i.Done)
		line("Finds", i.finds())
		line("Lets pass", lets(i.Lets))
		if !i.When.Always() {
			line("Asked", i.When.Sentence())
		}
		line("Read", reading(i))
		if i.Light {
			line("Light", "not at dusk")
		}
		if i.Photo {
			line("Proof", "a finding wants a photo")
		}
	}
	return b.String()
}

// finds are an item's kinds of finding, each with how bad it usually is where that is more than minor.
func (i Item) finds() string {
	names := make([]string, len(i.Kinds))
	for k, kind := range i.Kinds {
		names[k] = string(kind)
		if s := usual(i, kind); s != Minor {
			names[k] += fmt.Sprintf(" (%s)", s)
		}
	}
	return strings.Join(names, ", ")
}

// CSV is a list as a table, an item a row.
func (c Checklist) CSV() string {
	lines := [][]string{{"number", "look at", "zones", "how", "done when", "finds", "lets pass", "weight", "needs light",
		"wants a photo", "reads", "asked"}}
	yes := map[bool]string{true: "yes", false: "no"}
	for n, i := range c.Items {
		asked := "always"
		if !i.When.Always() {
			asked = i.When.Sentence()
		}
		lines = append(lines, []string{fmt.Sprint(n + 1), i.Title, where(i), i.How, i.Done, i.finds(), lets(i.Lets), fmt.Sprint(i.weighs()),
			yes[i.Light], yes[i.Photo], reading(i), asked})
	}
	return table.Text(lines)
}
