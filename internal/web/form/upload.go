package form

import (
	"errors"
	"mime/multipart"
	"net/http"
	"syscall"

	"github.com/gin-gonic/gin"
)

// Uploaded returns an uploaded file; why is the message if it did not arrive, with `first` the
// message for none chosen.
func Uploaded(c *gin.Context, field, first string) (file *multipart.FileHeader, why string) {
	file, err := c.FormFile(field)
	var tooLarge *http.MaxBytesError
	switch {
	case err == nil:
		return file, ""
	case errors.Is(err, http.ErrMissingFile), errors.Is(err, http.ErrNotMultipart):
		return nil, first
	case errors.As(err, &tooLarge):
		return nil, "That is too large to be imported here."
	case errors.Is(err, syscall.ENOSPC):
		return nil, "The disk has no room for the file. Nothing was changed; make room and send it again."
	}
	return nil, "The file did not arrive whole. Nothing was changed; send it again."
}
