package wrong

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestFieldsAreFoundByTheirType(t *testing.T) {
	two := errors.Join(At("name", "%q: a name of its own", "bay"), nil, At("[1].id", "another has it"))
	assert.Equal(t, []Field{{"name", `"bay": a name of its own`}, {"[1].id", "another has it"}}, Fields(two))
	assert.Equal(t, []Field{{"places.name", `"bay": a name of its own`}, {"places[1].id", "another has it"}},
		Fields(In("places", two)))
	assert.EqualError(t, In("places", two), "places.name: \"bay\": a name of its own\nplaces[1].id: another has it")

	assert.Equal(t, []Field{{"water.hardness", "a number"}}, Fields(In("water", At("hardness", "a number"))))
	assert.Equal(t, []Field{{"", "the disk is full: nothing fits\nat all"}},
		Fields(errors.New("the disk is full: nothing fits\nat all")), "what names no field is left whole")
	assert.Equal(t, []Field{{"founder.signIn", "two letters"}}, Fields(In("founder.signIn", errors.New("two letters"))))
	assert.Equal(t, []Field{{"at", "reading 3: at: check the clock"}}, Fields(fmt.Errorf("reading 3: %w", At("at", "check the clock"))))
	assert.Empty(t, Fields(nil))
	assert.NoError(t, In("anything", nil))
}
