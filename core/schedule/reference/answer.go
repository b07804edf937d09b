package reference

// Answer is what the independent solver found for the problem of a seed.
type Answer struct {
	Seed       int64 `json:"seed"`
	Activities int   `json:"activities"`
	People     int   `json:"people"`
	Vehicles   int   `json:"vehicles"`
	Infeasible bool  `json:"infeasible,omitempty"`
	Best       int   `json:"best,omitempty"` // s, the quickest that anybody found, Uskel with twenty times its effort among them
	Proven     bool  `json:"proven,omitempty"`
	Finish     int   `json:"finish,omitempty"` // the best found, s; the optimum when proven
}
