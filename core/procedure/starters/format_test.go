package starters

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
)

// Export then import gives the same procedure, byte for byte.
func TestExportThenImportIsTheSame(t *testing.T) {
	for _, p := range Starters() {
		data, err := procedure.Encode(p)
		require.NoError(t, err)
		back, err := procedure.Decode(data)
		require.NoError(t, err, p.Title)
		again, err := procedure.Encode(back)
		require.NoError(t, err)
		assert.Equal(t, string(data), string(again), p.Title)
		assert.Empty(t, procedure.Difference(p, back))
	}
}

func TestImportSaysLineAndField(t *testing.T) {
	data, err := procedure.Encode(Maintenance())
	require.NoError(t, err)
	good := string(data)
	for _, tc := range []struct {
		from, to, says string
	}{
		{`"version": 1`, `"version": "one"`, "line 4, version: a string stands where a int belongs"},
		{`"family": "F6"`, `"famly": "F6"`, "line 3, famly: there is no such field"},
		{`"title": "Lay out"`, `"title": ""`, "id and title are needed"},
		{`"fact": "must not be washed"`, `"fact": "moon phase"`, `there is no such fact`},
		{`"stages": [`, `"stages": {`, "this is not JSON"},
	} {
		require.Contains(t, good, tc.from)
		_, err := procedure.Decode([]byte(strings.Replace(good, tc.from, tc.to, 1)))
		var where *procedure.FormatError
		require.ErrorAs(t, err, &where, tc.to)
		assert.ErrorContains(t, err, tc.says)
		assert.Positive(t, where.Line)
	}
	_, err = procedure.Decode(data[:len(data)/2])
	assert.ErrorContains(t, err, "ends too early")
	_, err = procedure.Decode(append(data, '1'))
	assert.ErrorContains(t, err, "something after")
	_, err = procedure.Decode(nil)
	assert.Error(t, err)
}

func TestMarkdownHoldsEveryStep(t *testing.T) {
	for _, p := range Starters() {
		text := procedure.Markdown(p)
		for _, s := range p.Steps() {
			assert.Contains(t, text, "**"+s.Title+"**")
		}
		assert.True(t, strings.HasPrefix(text, "# "+p.Title))
	}
}

func FuzzDecode(f *testing.F) {
	small := plainWash()
	small.Stages = small.Stages[:3]
	for _, p := range []procedure.Procedure{small, Blank("blank", "Blank"), Waterless()} {
		data, err := procedure.Encode(p)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data)
	}
	f.Add([]byte(`{"stages":[{"steps":[{"when":{"not":{"not":{}}}}]}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := procedure.Decode(data)
		if err != nil {
			return
		}
		procedure.SenseCheck(p, nil)
		again, err := procedure.Encode(p)
		if err != nil {
			t.Fatal(err)
		}
		back, err := procedure.Decode(again)
		if err != nil {
			t.Fatalf("what was written cannot be read: %v", err)
		}
		if twice, _ := procedure.Encode(back); string(twice) != string(again) {
			t.Fatal("not the same byte for byte")
		}
	})
}
