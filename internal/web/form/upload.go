package form

import (
	"errors"
	"mime/multipart"
	"net/http"

	"github.com/gin-gonic/gin"
)

// uploadKey is the context key of the error of reading an upload.
const uploadKey = "upload"

// KeepUploadError remembers that a request's upload could not be read; a body can be read once only.
func KeepUploadError(c *gin.Context, err error) {
	if err != nil {
		c.Set(uploadKey, err)
	}
}

// Uploaded returns an uploaded file; why is the message if it did not arrive, with `first` the
// message for none chosen.
func Uploaded(c *gin.Context, field, first string) (file *multipart.FileHeader, why string) {
	var err error
	if failed, ok := c.Get(uploadKey); ok {
		err = failed.(error)
	} else {
		file, err = c.FormFile(field)
	}
	var tooLarge *http.MaxBytesError
	switch {
	case err == nil:
		return file, ""
	case errors.Is(err, http.ErrMissingFile), errors.Is(err, http.ErrNotMultipart):
		return nil, first
	case errors.As(err, &tooLarge):
		return nil, "That is too large to be imported here."
	}
	return nil, "The file did not arrive whole. Nothing was changed; send it again."
}
