package procedure

import "strings"

// WordSpan is some words of a text that changed: kept, gone from the old, or new in the new.
type WordSpan struct {
	Kind string `json:"kind" enum:"kept,gone,new"`
	Text string `json:"text"`
}

// Worded marks word by word what changed from one text to another. The kept and gone spans are the old text's words in
// their order, the kept and new ones the new text's. It keeps as many words as can be kept (a longest common
// subsequence); texts of a procedure have some hundred words at most.
func Worded(old, new string) []WordSpan {
	a, b := strings.Fields(old), strings.Fields(new)
	common := commonWords(a, b)
	var spans []WordSpan
	add := func(kind, word string) {
		if last := len(spans) - 1; last >= 0 && spans[last].Kind == kind {
			spans[last].Text += " " + word
			return
		}
		spans = append(spans, WordSpan{kind, word})
	}
	i, j := 0, 0
	for i < len(a) || j < len(b) {
		switch {
		case i < len(a) && j < len(b) && a[i] == b[j]:
			add("kept", a[i])
			i, j = i+1, j+1
		case i < len(a) && (j == len(b) || common[i+1][j] >= common[i][j+1]):
			add("gone", a[i])
			i++
		default:
			add("new", b[j])
			j++
		}
	}
	return spans
}

// commonWords counts, for each place in both, how many words from there on can be kept.
func commonWords(a, b []string) [][]int {
	common := make([][]int, len(a)+1)
	for i := range common {
		common[i] = make([]int, len(b)+1)
	}
	for i := len(a) - 1; i >= 0; i-- {
		for j := len(b) - 1; j >= 0; j-- {
			if a[i] == b[j] {
				common[i][j] = common[i+1][j+1] + 1
			} else {
				common[i][j] = max(common[i+1][j], common[i][j+1])
			}
		}
	}
	return common
}
