package work

// Outcomes of a schedule.
const (
	Waits     = ""
	Done      = "done"
	Cancelled = "cancelled"
	Failed    = "failed"
)
