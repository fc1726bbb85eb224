package main

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/store"
)

// run returns the command line its words and its standard input.
func run(in string, args ...string) (string, error) {
	c := root()
	var out bytes.Buffer
	c.SetArgs(args)
	c.SetIn(strings.NewReader(in))
	c.SetOut(&out)
	c.SetErr(&out)
	err := c.ExecuteContext(context.Background())
	return out.String(), err
}

func TestDoseCommand(t *testing.T) {
	out, err := run(`{"date":"2026-10-01","bed":{"area_m2":10,"texture":"loam"},"reading":{"ph":5.5},"target_ph":6.5}`, "dose")
	require.NoError(t, err)
	assert.Contains(t, out, `"caco3_g_m2": 321.5`)
	for request, field := range map[string]string{
		`{"date":"2026-10-01","bed":{"area_m2":0,"texture":"loam"},"reading":{"ph":5.5},"target_ph":6.5}`:   "bed.area_m2",
		`{"date":"2026-10-01","bed":{"area_m2":10,"texture":"loam"},"reading":{"ph":11},"target_ph":6.5}`:   "reading.ph",
		`{"date":"2026-10-01","bed":{"area_m2":10,"texture":"fudge"},"reading":{"ph":5.5},"target_ph":6.5}`: "bed.texture",
		`{"date":"2026-10-01","moon":"full"}`: "moon",
	} {
		out, err := run(request, "dose")
		require.ErrorIs(t, err, errAnswered, "exit code 2")
		assert.Contains(t, out, `"field":"`+field+`"`)
		assert.Equal(t, 1, strings.Count(out, "\n"), "one error")
	}
	out, err = run("{}\n{}\n", "dose", "--lines")
	require.ErrorIs(t, err, errAnswered)
	assert.Equal(t, 2, strings.Count(out, "\n"))
}

func TestDoseCommandWithFizzOnly(t *testing.T) {
	for _, strength := range []string{"none", "faint", "clear", "strong"} {
		out, err := run(`{"date":"2026-10-01","bed":{"area_m2":10,"texture":"loam"},
			"reading":{"method":"fizz","fizz":{"vinegar":"none","soda":"`+strength+`"}},"target_ph":6.5}`, "dose")
		require.NoError(t, err)
		assert.Contains(t, out, `"direction": "refused"`)
		assert.Contains(t, out, `"id": "fizz-only"`)
		assert.NotContains(t, out, `"goes"`)
		assert.Contains(t, out, `"options": []`)
		assert.Contains(t, out, `"caco3_g_m2": 0,`)
	}
	out, err := run(`{"date":"2026-10-01","bed":{"area_m2":10,"texture":"loam"},
		"reading":{"method":"fizz","ph":5.5,"fizz":{"vinegar":"none","soda":"clear"}},"target_ph":6.5}`, "dose")
	require.ErrorIs(t, err, errAnswered)
	assert.Contains(t, out, `"field":"reading.ph"`, "a figure is not smuggled in")
}

func TestNonLoopbackNeedsPassphrase(t *testing.T) {
	data := filepath.Join(t.TempDir(), "garden.db")
	_, err := run("", "serve", "--data", data, "--listen", "0.0.0.0:0")
	require.ErrorContains(t, err, "set a passphrase first")
	_, err = run("", "demo", "--listen", "192.0.2.7:80")
	require.ErrorContains(t, err, "this machine only")
	_, err = run("short\n", "passphrase", "--data", data)
	require.ErrorContains(t, err, "at least 10 letters")
	out, err := run("lime in the autumn\n", "passphrase", "--data", data)
	require.NoError(t, err)
	assert.Contains(t, out, "is set")
	_, err = run("", "serve", "--data", data, "--listen", "0.0.0.0:0", "--tls-cert", "x")
	require.ErrorContains(t, err, "go together")
}

func TestInvalidDemoDays(t *testing.T) {
	_, err := run("", "demo", "--today", "2026-02-30")
	require.ErrorContains(t, err, "not a day")
}

func TestExportAndImportFiles(t *testing.T) {
	dir := t.TempDir()
	first, second := filepath.Join(dir, "a.db"), filepath.Join(dir, "b.db")
	_, err := run("", "export", "--data", first)
	require.Error(t, err, "there is no such garden, and none is made")
	_, err = run("ash on her gloves\n", "passphrase", "--data", first)
	require.NoError(t, err)
	out, err := run("", "export", "--data", first)
	require.NoError(t, err)
	assert.NotContains(t, out, "argon2id", "the passphrase stays at home")
	_, err = run(out, "import", "--data", second)
	require.NoError(t, err)
	again, err := run("", "export", "--data", second)
	require.NoError(t, err)
	before := func(archive string) string { records, _, _ := strings.Cut(archive, `"journal"`); return records }
	assert.Equal(t, before(out), before(again))
	_, err = run("[", "import", "--data", second)
	require.ErrorContains(t, err, "not an archive")
	kept := filepath.Join(dir, "c.db")
	said, err := run("", "restore", "--data", kept, "--from", second)
	require.NoError(t, err)
	assert.Contains(t, said, "is now what")
	third, err := run("", "export", "--data", kept)
	require.NoError(t, err)
	assert.Equal(t, again, third)
	said, err = run("", "restore", "--data", kept, "--from", first)
	require.NoError(t, err)
	assert.Contains(t, said, "before-restore-")
	_, err = run("", "restore", "--data", kept, "--from", filepath.Join(dir, "nowhere.db"))
	require.Error(t, err)
}

func TestStaleUploadsAreCleared(t *testing.T) {
	data := filepath.Join(t.TempDir(), "garden.db")
	left := data + ".uploads/multipart-123"
	require.NoError(t, os.MkdirAll(filepath.Dir(left), 0o755))
	require.NoError(t, os.WriteFile(left, []byte("half an archive"), 0o600))
	done, err := ownTemp(data)
	require.NoError(t, err)
	require.NoFileExists(t, left)
	assert.Equal(t, data+".uploads", os.TempDir(), "uploads go there")
	info, err := os.Stat(data + ".uploads")
	require.NoError(t, err)
	assert.Equal(t, "drwx------", info.Mode().String())
	done()
	require.NoDirExists(t, data+".uploads")
	// A folder of that name with something of somebody else's stays, with what lies in it.
	notes := filepath.Join(data+".uploads", "zephyrfield-notes", "beds.txt")
	require.NoError(t, os.MkdirAll(filepath.Dir(notes), 0o700))
	require.NoError(t, os.WriteFile(notes, []byte("carrots"), 0o600))
	again, err := ownTemp(data)
	require.NoError(t, err)
	again()
	require.FileExists(t, notes)
	assert.NotEqual(t, data+".uploads", os.TempDir())
}

func TestRequestLogTarget(t *testing.T) {
	var out bytes.Buffer
	_, requests, err := serving{log: "json"}.logs(&out)
	require.NoError(t, err)
	requests.Info("request")
	assert.True(t, strings.HasPrefix(out.String(), "{"))
	_, requests, err = serving{}.logs(&out)
	require.NoError(t, err)
	assert.Nil(t, requests)
	_, _, err = serving{log: "loud"}.logs(&out)
	require.ErrorContains(t, err, "--log")
}

func TestSecondServeIsRefused(t *testing.T) {
	data := filepath.Join(t.TempDir(), "garden.db")
	st, err := store.OpenServing(context.Background(), data, "127.0.0.1:8017")
	require.NoError(t, err)
	defer func() { _ = st.Close() }()
	_, err = run("", "serve", "--data", data, "--listen", "127.0.0.1:0")
	require.ErrorIs(t, err, store.ErrServed)
	require.ErrorContains(t, err, "127.0.0.1:8017")
	_, err = run("", "restore", "--data", data, "--from", data)
	require.Error(t, err)
}

// A garden that was not made as a rehearsal is never run as one, and a bad day makes no file.
func TestGardenIsNeverRunAsRehearsal(t *testing.T) {
	data := filepath.Join(t.TempDir(), "garden.db")
	_, err := run("", "serve", "--data", data, "--rehearse", "2026-02-30")
	require.ErrorContains(t, err, "--rehearse")
	assert.NoFileExists(t, data)
	garden := `{"format":"zephyrfield-archive","edition":1,"garden":[{"id":1,"version":1,"name":"Old","climate":"maritime",
		"hemisphere":"north","soil_table":"cool","buffering":"table","ash_school":"equivalence","act_school":"below-band",
		"soil_temp_c":null,"started":""}]}`
	_, err = run(garden, "import", "--data", data)
	require.NoError(t, err)
	_, err = run("", "serve", "--data", data, "--rehearse", "2026-03-01", "--listen", "127.0.0.1:0")
	require.ErrorContains(t, err, "not made as a rehearsal")
}
