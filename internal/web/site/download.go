package site

import (
	"context"
	"errors"
	"io"
	"net/http"
	"os"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
)

// Types of downloads.
const (
	CSV      = "text/csv; charset=utf-8"
	Workbook = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
)

// mostHeavy is how many files are made or taken in at a time: each may take tens of MB.
const mostHeavy = 2

// heavyKey is the context key of what ends a request's heavy work.
const heavyKey = "end of heavy work"

// Heavy wraps a handler that makes or takes in a file: it waits, before it reads anything, until few enough others
// do.
func (s *Site) Heavy(page func(*gin.Context) error) func(*gin.Context) error {
	return func(c *gin.Context) error {
		ctx := c.Request.Context()
		select {
		case s.heavy <- struct{}{}:
		case <-ctx.Done():
			return ctx.Err()
		}
		free := sync.OnceFunc(func() { <-s.heavy })
		defer free()
		c.Set(heavyKey, free)
		return page(c)
	}
}

// freeHeavy ends a request's heavy work before its answer is sent.
func freeHeavy(c *gin.Context) {
	if free, ok := c.Get(heavyKey); ok {
		free.(func())()
	}
}

// File is a download's name and type.
type File struct{ Name, Type string }

// SendFile makes a file and sends it. It is made on the disk as a whole, and the request's snapshot ends, before its
// first byte is sent: a slow reader holds neither memory nor a view of the garden, and a fault is told as a page.
func (s *Site) SendFile(c *gin.Context, f File, write func(io.Writer) error) error {
	made, err := spool(c.Request.Context(), write)
	if err != nil {
		return err
	}
	defer made.end()
	s.Close(c)
	freeHeavy(c)
	c.Header("Content-Disposition", `attachment; filename="`+f.Name+`"`)
	c.DataFromReader(http.StatusOK, made.size, f.Type, &steadily{made.file, controller(c)}, nil)
	return nil
}

// spooled is a file that is waiting to be sent.
type spooled struct {
	file *os.File
	size int64
}

// spool writes a file to the disk.
func spool(ctx context.Context, write func(io.Writer) error) (made spooled, err error) {
	if made.file, err = os.CreateTemp("", "zephyrfield-"); err != nil {
		return made, err
	}
	defer func() {
		if err != nil {
			made.end()
		}
	}()
	if err := write(stoppable{ctx, made.file}); err != nil {
		return made, err
	}
	if made.size, err = made.file.Seek(0, io.SeekCurrent); err != nil {
		return made, err
	}
	_, err = made.file.Seek(0, io.SeekStart)
	return made, err
}

func (m spooled) end() {
	_ = errors.Join(m.file.Close(), os.Remove(m.file.Name()))
}

// writerKey is the context key of the connection's own writer: those around it hide its deadlines.
const writerKey = "connection"

// KeepWriter remembers the connection's writer, before another is put around it.
func KeepWriter(c *gin.Context) { c.Set(writerKey, c.Writer) }

func controller(c *gin.Context) *http.ResponseController {
	if w, ok := c.Get(writerKey); ok {
		return http.NewResponseController(w.(http.ResponseWriter))
	}
	return http.NewResponseController(c.Writer)
}

// Data ends the request's snapshot and sends an answer.
func (s *Site) Data(c *gin.Context, status int, kind string, b []byte) {
	s.Close(c)
	freeHeavy(c)
	c.Data(status, kind, b)
}

// stoppable writes until its context ends.
type stoppable struct {
	ctx context.Context
	io.Writer
}

func (w stoppable) Write(p []byte) (int, error) {
	if err := w.ctx.Err(); err != nil {
		return 0, err
	}
	return w.Writer.Write(p)
}

// patience is how long a reader may take for a piece of a file, and piece its size in bytes.
const (
	patience = 60 * time.Second
	piece    = 256 << 10
)

// steadily hands out a file in pieces and gives the reader time for each: a large file on a slow line takes longer
// than one answer may.
type steadily struct {
	io.Reader
	to *http.ResponseController
}

func (r *steadily) Read(p []byte) (int, error) {
	// Recorders in tests have no deadlines.
	_ = r.to.SetWriteDeadline(time.Now().Add(patience))
	return r.Reader.Read(p[:min(len(p), piece)])
}
