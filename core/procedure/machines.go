package procedure

// What the sense check and the planner know by name: the machines of a shop, and the hose without its head that sheets
// water off.
const (
	WasherMachine = "pressure washer"
	HoseMachine   = "hose"
	BlowerMachine = "blower"
	OpenHose      = "open hose"
)
