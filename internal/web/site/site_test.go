package site_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/site"
)

func TestWithin(t *testing.T) {
	for _, own := range []string{"/", "/beds/2?on=2026-11-24", "/sheet#go-3"} {
		assert.Equal(t, own, site.Within(own))
	}
	for _, other := range []string{"", "beds", "//else.where/", "///else.where", "////else.where/a",
		"https://else.where/", `/\else.where`, "/a b", "/a\nb", "javascript:x"} {
		assert.Equal(t, "/", site.Within(other), other)
	}
}

func TestFirstFaultIsStable(t *testing.T) {
	assert.Equal(t, "b", site.FirstFault(garden.Faults{"2": "c", "1": "b"}))
}
