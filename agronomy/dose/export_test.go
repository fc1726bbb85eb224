package dose

// Bare is the option without what only Working looks at, so that two can be
// compared.
func (o Option) Bare() Option {
	o.from, o.parts = nil, nil
	return o
}
