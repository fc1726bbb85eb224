package text_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/symptom"
	"zephyrfield/agronomy/text"
)

// These tests fail when something is added to a table of the core without what the interface says of it.

func TestEveryMaterialHasDescription(t *testing.T) {
	for _, m := range material.Table {
		assert.NotEmpty(t, text.Does(m), m.Kind)
		assert.NotContains(t, text.Material(m.Kind), "-", m.Kind)
	}
}

func TestEveryExtractantAndBufferHasName(t *testing.T) {
	for _, e := range soil.Extractants {
		assert.NotEqual(t, string(e), text.Name(e), e)
	}
	for _, b := range soil.BufferKinds {
		assert.NotEqual(t, string(b), text.Name(b), b)
	}
}

func TestEveryLimeMethodHasNameAndReason(t *testing.T) {
	for _, m := range soil.LimeMethods {
		assert.NotEqual(t, string(m), text.Name(m), m)
	}
	for _, m := range soil.HabitMethods {
		assert.NotEmpty(t, text.Why(m), m)
	}
}

func TestEveryGuardHasSentence(t *testing.T) {
	for _, r := range guard.Rules {
		assert.True(t, text.HasGuard(r.ID), r.ID)
	}
}

func TestEverySymptomHasNameAndTest(t *testing.T) {
	for _, s := range symptom.Symptoms {
		assert.NotEqual(t, s.ID, text.SymptomName(s.ID), s.ID)
		assert.NotEmpty(t, text.SymptomSays(s.ID), s.ID)
		assert.NotEmpty(t, text.SymptomAsks(s.ID), s.ID)
	}
}

// rulesOfDays returns the constants of type Why in package calendar: name and id.
func rulesOfDays(t *testing.T) map[string]string {
	t.Helper()
	out := map[string]string{}
	files, err := filepath.Glob("../calendar/*.go")
	require.NoError(t, err)
	for _, file := range files {
		f, err := parser.ParseFile(token.NewFileSet(), file, nil, 0)
		require.NoError(t, err)
		ast.Inspect(f, func(n ast.Node) bool {
			s, ok := n.(*ast.ValueSpec)
			if !ok || len(s.Values) != len(s.Names) {
				return true
			}
			for i, name := range s.Names {
				lit, isLit := s.Values[i].(*ast.BasicLit)
				if typ, isIdent := s.Type.(*ast.Ident); isLit && isIdent && typ.Name == "Why" {
					id, err := strconv.Unquote(lit.Value)
					require.NoError(t, err)
					out[name.Name] = id
				}
			}
			return true
		})
	}
	require.Greater(t, len(out), 15)
	return out
}

func TestEveryDayRuleHasCaseAndSentence(t *testing.T) {
	var tests strings.Builder
	files, err := filepath.Glob("../calendar/*_test.go")
	require.NoError(t, err)
	for _, file := range files {
		b, err := os.ReadFile(file)
		require.NoError(t, err)
		tests.Write(b)
	}
	for name, id := range rulesOfDays(t) {
		if id == "" {
			continue // free
		}
		assert.NotEqual(t, id, text.Limit(id), "%s has no sentence", name)
		assert.Contains(t, tests.String(), "calendar."+name, "no test of the calendar names %s", name)
	}
}
