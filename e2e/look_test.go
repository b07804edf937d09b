package e2e
import ("testing";"os")
func TestLook(t *testing.T) {
	s := open(t)
	b := s.as("maren", desk)
	b.visit("/training/lessons/buckets")
	b.see("h3", "As it is done here")
	os.WriteFile("/tmp/keep/l.pdf", b.pdf([2]float64{8.27, 11.69}, ""), 0o644)
}
