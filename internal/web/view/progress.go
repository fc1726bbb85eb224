package view

// Progress is the progress of a job.
type Progress struct {
	// Things is the noun of its unit.
	Things            string
	Done, Of, Percent int
	Ended             bool
	// Says is the reason of its failure; "" while it runs.
	Says string
}
