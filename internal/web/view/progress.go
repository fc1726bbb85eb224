package view

// Progress is how far something has come that takes long.
type Progress struct {
	// Things are what it counts.
	Things            string
	Done, Of, Percent int
	Ended             bool
	// Says is why it came to nothing; "" where it goes on.
	Says string
}
