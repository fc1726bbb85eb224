package dosejson

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
)

// maxRequest is the longest request in bytes.
const maxRequest = 1 << 20

// Answerer answers one kind of request.
type Answerer func(request []byte) (answer any, err error)

// Doses answers dose requests.
var Doses Answerer = func(b []byte) (any, error) { return AnswerTo(b) }

// Forecasts answers forecast requests.
var Forecasts Answerer = func(b []byte) (any, error) { return ForecastTo(b) }

// Rations answers requests for sharing out with at most so many steps of search each; 0 is no limit.
func Rations(steps int) Answerer { return func(b []byte) (any, error) { return RationTo(b, steps) } }

// errTooLong is the fault of a request that is longer than maxRequest.
var errTooLong = bad("request", "it is longer than 1 MiB")

// answer answers one request; without an error, raw is the answer.
func (to Answerer) answer(request []byte) (raw any, err error) {
	if len(request) > maxRequest {
		return nil, errTooLong
	}
	if err := checkFigures(request); err != nil {
		return nil, err
	}
	return to(request)
}

// One reads one request from r and writes its answer, or its error, to w. It
// returns the error that was written.
func (to Answerer) One(r io.Reader, w io.Writer) error {
	b, err := io.ReadAll(io.LimitReader(r, maxRequest+1))
	if err != nil {
		return err
	}
	e := encoder(w)
	a, err := to.answer(b)
	if err != nil {
		return errors.Join(err, e.Encode(Fault(err)))
	}
	e.SetIndent("", "  ")
	return e.Encode(a)
}

// Lines answers a stream of requests, one per line, with one answer or error per line as soon as it
// is computed. It continues after a bad line, a longer one than can be too, and returns the number
// of refused ones.
func (to Answerer) Lines(r io.Reader, w io.Writer) (refused int, err error) {
	in, out := bufio.NewReaderSize(r, 64<<10), bufio.NewWriter(w)
	for {
		line, ended := readLine(in)
		if line = bytes.TrimSpace(line); len(line) > 0 {
			ok, err := to.line(line, out)
			if !ok {
				refused++
			}
			if err := errors.Join(err, out.Flush()); err != nil {
				return refused, err
			}
		}
		switch {
		case errors.Is(ended, io.EOF):
			return refused, nil
		case ended != nil:
			refused++
			err := encoder(out).Encode(Error{"request", fmt.Sprintf("reading stopped: %v", ended)})
			return refused, errors.Join(err, out.Flush())
		}
	}
}

// line answers one line; ok is false when it was refused.
func (to Answerer) line(line []byte, w io.Writer) (ok bool, err error) {
	a, err := to.answer(line)
	if err != nil {
		return false, encoder(w).Encode(Fault(err))
	}
	// Encoded before anything is written: an answer that cannot be is refused like a request.
	var b bytes.Buffer
	if err := encoder(&b).Encode(a); err != nil {
		return false, encoder(w).Encode(Error{"request", "its figures lead to none that can be told"})
	}
	_, err = w.Write(b.Bytes())
	return true, err
}

// readLine reads a line. What is beyond the longest request is read and dropped, so that the next line can be
// answered.
func readLine(in *bufio.Reader) (line []byte, err error) {
	for {
		part, err := in.ReadSlice('\n')
		if room := maxRequest + 1 - len(line); room > 0 {
			line = append(line, part[:min(len(part), room)]...)
		}
		if !errors.Is(err, bufio.ErrBufferFull) {
			return line, err
		}
	}
}

func encoder(w io.Writer) *json.Encoder {
	e := json.NewEncoder(w)
	e.SetEscapeHTML(false)
	return e
}
