package store

import (
	"context"
	"time"

	"uskel/core/procedure"
	"uskel/core/ready"
)

// SeenOf is what was seen of somebody's skill, from one source.
type SeenOf struct {
	PersonID string
	Skill    procedure.Skill
	ready.Counted
}

// seenSQL counts what was seen of each skill of everybody since a moment, by source, and what of it counts still: half as
// much for each half-life. A finding counts against the skill that it goes back to, in the audits of whoever washed.
const seenSQL = `
WITH seen AS (
    SELECT person_id, skill, answered_at AS at, correct AS well, 'cases' AS source FROM cases WHERE answered_at >= @since
    UNION ALL
    SELECT person_id, skill, finished_at, passed, 'drills' FROM drill_runs WHERE finished_at >= @since
    UNION ALL
    SELECT s.person_id, s.skill, s.at, c.value::boolean, 'watched'
    FROM sign_offs s, jsonb_each_text(s.criteria) c WHERE s.at >= @since AND NOT EXISTS (
        SELECT 1 FROM watched x WHERE x.wash_id = s.wash_id AND x.skill = s.skill)
    UNION ALL
    SELECT person_id, skill, at, mark = 2, 'watched' FROM (
        SELECT DISTINCT ON (wash_id, person_id, skill, criterion) person_id, skill, at, mark FROM watched
        WHERE at >= @since ORDER BY wash_id, person_id, skill, criterion, at DESC, id DESC) newest
    WHERE mark > 0
    UNION ALL
    SELECT w.washer_id, k.skill, a.closed_at, NOT EXISTS (
        SELECT 1 FROM jsonb_array_elements(a.result -> 'findings') f
        WHERE finding_counts(a.id, f) AND f ->> 'skill' = k.skill), 'audits'
    FROM audits a JOIN washes w ON w.id = a.wash_id, unnest(CAST(@audited AS text[])) AS k (skill)
    WHERE a.closed_at >= @since AND a.result IS NOT NULL
)
SELECT person_id, skill, source, count(*) AS seen, count(*) FILTER (WHERE well) AS well,
    sum(counts) AS faded_seen, coalesce(sum(counts) FILTER (WHERE well), 0) AS faded_well
FROM (SELECT *, power(0.5, extract(epoch FROM CAST(@now AS timestamptz) - at) / 86400 / CAST(@half AS float8)) AS counts FROM seen) weighed
GROUP BY person_id, skill, source ORDER BY person_id, skill, source`

// audited are the skills that an audit of a whole wash says something of.
const audited = "{rinse and lance,wheels,foam,mitt,drying,shuts}"

// looksBack is how many half-lives are looked back: what is older counts next to nothing.
const looksBack = 4

// Evidence is what was seen of everybody's skills, given after how many days it counts half.
func (s *Store) Evidence(ctx context.Context, now time.Time, halfLife int) ([]SeenOf, error) {
	var rows []SeenOf
	err := s.with(ctx).Raw(seenSQL, map[string]any{"since": now.AddDate(0, 0, -looksBack*halfLife), "now": now, "half": halfLife,
		"audited": audited}).Scan(&rows).Error
	return rows, translate(err, "evidence")
}
