package contact

import "testing"

// The chooser plans a contact wash for every procedure whose pre-wash differs.
func BenchmarkMake(b *testing.B) {
	for _, c := range []struct {
		name  string
		grade Grade
	}{{"light", 1}, {"heavy", 3}} {
		patches := midSize(c.grade, prewash)
		b.Run(c.name, func(b *testing.B) {
			for b.Loop() {
				if _, err := Make(Mitt, ordinary, patches, false, DefaultAim); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
