package present

import (
	"io"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/job"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

// UploadedOr returns an uploaded file, or text pasted instead.
func UploadedOr(c *gin.Context, name, pasted string) (string, []byte, error) {
	if pasted != "" {
		return name, []byte(pasted), nil
	}
	file, why := form.Uploaded(c, "file", "Choose a file, or paste its lines.")
	if why != "" {
		return "", nil, garden.Faults{"file": why}
	}
	in, err := file.Open()
	if err != nil {
		return "", nil, err
	}
	defer func() { _ = in.Close() }()
	data, err := io.ReadAll(io.LimitReader(in, exchange.MaxLabFile+1))
	return file.Filename, data, err
}

// JobView returns a job's progress.
func JobView(j job.Status, things string) *view.Progress {
	v := &view.Progress{Done: j.Step, Of: j.Of, Ended: j.Ended(), Things: things}
	if j.Of > 0 {
		v.Percent = 100 * j.Step / j.Of
	}
	switch j.State {
	case job.Failed:
		v.Says = "Nothing was imported: " + text.Lower(j.Says) + "."
	case job.CutOff:
		v.Says = "Nothing was imported: the program was stopped. Import the file once more."
	}
	return v
}
