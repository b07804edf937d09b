package procedure

import "regexp"

// IDPattern is what the ids of procedures, stages, steps and products look like: they stand in addresses, file names
// and tables.
const IDPattern = `^[a-z0-9][a-z0-9-]{0,79}$`

// IDWords says the pattern.
const IDWords = "small letters, digits and hyphens, up to 80, beginning with a letter or digit"

var id = regexp.MustCompile(IDPattern)

// IsID reports whether a text can be an id.
func IsID(text string) bool { return id.MatchString(text) }
