package plan

import "uskel/core/shelf"

// marked is how the shop marks the cloth that a step asks for: by its own colour where it has one for that, else as the procedure says.
func (j Job) marked(cloth, colour string) string {
	if set, there := shelf.SetFor(cloth, colour, j.Cloths); there {
		return set.Colour
	}
	return colour
}
