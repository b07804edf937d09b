package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/lesson"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/store"
)

// RubricVersion is a version of a rubric with what it changed.
type RubricVersion struct {
	Version int           `json:"version"`
	At      *time.Time    `json:"at,omitempty"`
	By      string        `json:"by,omitempty"`
	Changed []string      `json:"changed" doc:"in words, against the version before"`
	Rubric  skills.Rubric `json:"rubric"`
}

func (s *server) registerRubrics(api huma.API) {
	operation(s, api, get("/rubrics/{skill}", "rubric", "All versions of a skill's lesson and rubric, the newest first"), shop.See,
		s.rubric)
	operation(s, api, file(get("/rubrics/{skill}/export", "exportRubric", "A skill's rubric as a document, the newest version"),
		"application/json", "text/markdown"), shop.See, s.exportRubric)
	operation(s, api, get("/lessons/{skill}", "lesson", "A skill's card, from the shop's procedures, schools and vessels"), shop.See, s.lesson)
	operation(s, api, put("/rubrics/{skill}", "saveRubric", "Publish a new version of a skill's lesson and rubric"), shop.Write,
		s.saveRubric)
}

// SkillPath names a skill in a path.
type SkillPath struct {
	Skill procedure.Skill `path:"skill"`
}

func (s *server) rubric(ctx context.Context, in *SkillPath) (*Out[[]RubricVersion], error) {
	versions, err := s.rubricVersions(ctx, in.Skill)
	return &Out[[]RubricVersion]{versions}, err
}

func (s *server) exportRubric(ctx context.Context, in *struct {
	SkillPath
	Format string `query:"format" enum:"json,markdown" default:"json"`
}) (*Document, error) {
	versions, err := s.rubricVersions(ctx, in.Skill)
	if err != nil {
		return nil, err
	}
	r := versions[0].Rubric
	r.Version = versions[0].Version
	name := fmt.Sprintf("%s-%d", strings.ReplaceAll(string(r.Skill), " ", "-"), r.Version)
	if in.Format == "markdown" {
		return documentOf(name, in.Format, []byte(r.Markdown())), nil
	}
	data, err := json.MarshalIndent(r, "", "  ")
	return documentOf(name, in.Format, data), err
}

// rubricVersions are all versions of a skill's rubric, the newest first; the last is what Uskel begins with.
func (s *server) rubricVersions(ctx context.Context, skill procedure.Skill) ([]RubricVersion, error) {
	first, err := skills.RubricOf(skills.Starters(), skill)
	if err != nil {
		return nil, huma.Error404NotFound(err.Error())
	}
	rows, err := s.Store.RubricVersions(ctx, skill)
	if err != nil {
		return nil, err
	}
	versions := make([]RubricVersion, 0, len(rows)+1)
	for i, r := range rows {
		was, at := first, r.At.UTC()
		if i+1 < len(rows) {
			was = rows[i+1].Body
		}
		versions = append(versions, RubricVersion{r.Version, &at, r.By.Name, r.Body.Differs(was), r.Body})
	}
	return append(versions, RubricVersion{Changed: []string{}, Rubric: first}), nil
}

func (s *server) saveRubric(ctx context.Context, in *struct {
	SkillPath
	Body struct {
		Version int           `json:"version" minimum:"0" doc:"that it was written from"`
		Rubric  skills.Rubric `json:"rubric"`
	}
}) (*Out[[]RubricVersion], error) {
	r := in.Body.Rubric
	r.Skill = in.Skill
	if err := r.Check(); err != nil {
		return nil, invalid("rubric", err)
	}
	versions, err := s.rubricVersions(ctx, in.Skill)
	if err != nil {
		return nil, err
	}
	newest := versions[0]
	if newest.Version != in.Body.Version {
		if newest.At == nil { // nobody has written one yet: what the shop began with is no other's
			return nil, invalid("version", fmt.Errorf("version: the shop's own version is %d", newest.Version))
		}
		return nil, stale("rubric", r, theirs{newest.Rubric, newest.By, s.local(ctx, *newest.At)})
	}
	r.Version = newest.Version
	if len(r.Differs(newest.Rubric)) == 0 {
		return nil, invalid("rubric", errors.New("rubric: nothing is different from the version before"))
	}
	r.Version++
	err = s.Store.AddRubric(ctx, store.RubricRow{Skill: r.Skill, Version: r.Version, Body: r, ByID: who(ctx).ID, At: s.Now()})
	if errors.Is(err, store.ErrStale) {
		return nil, conflict("Somebody else has published a version just now: look at theirs first.")
	}
	if err != nil {
		return nil, err
	}
	return s.rubric(ctx, &in.SkillPath)
}

// rubricAt is a skill's rubric as it read in a version.
func (s *server) rubricAt(ctx context.Context, skill procedure.Skill, version int) (skills.Rubric, error) {
	versions, err := s.rubricVersions(ctx, skill)
	if err != nil {
		return skills.Rubric{}, err
	}
	for _, v := range versions {
		if v.Version == version {
			return v.Rubric, nil
		}
	}
	return skills.Rubric{}, fmt.Errorf("version: %s has no version %d", skill, version)
}

func (s *server) lesson(ctx context.Context, in *SkillPath) (*Out[lesson.Lesson], error) {
	rubrics, err := s.Store.Rubrics(ctx)
	if err != nil {
		return nil, err
	}
	r, err := skills.RubricOf(rubrics, in.Skill)
	if err != nil {
		return nil, huma.Error404NotFound(err.Error())
	}
	published, err := s.Store.Procedures(ctx)
	if err != nil {
		return nil, err
	}
	settings, _, err := s.Store.Settings(ctx)
	vessels := []string{}
	for _, v := range settings.Vessels {
		if v.Kind == shelf.Bucket || v.Kind == shelf.FoamBottle {
			vessels = append(vessels, lesson.Filled(v.Name, v.Holds.Ml()/1000))
		}
	}
	return &Out[lesson.Lesson]{lesson.Of(r, published, settings.Pins, vessels)}, err
}
