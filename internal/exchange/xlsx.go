package exchange

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"strings"

	"github.com/xuri/excelize/v2"
)

// Limits of a workbook, unzipped: its total, and its shared strings, which are held in memory.
const (
	maxUnzipped = 60 << 20
	maxStrings  = 16 << 20
	maxTexts    = 100_000
	maxParts    = 2000
)

// readXLSX reads the first sheet of a workbook.
func readXLSX(data []byte) ([][]string, error) {
	if err := checkXLSX(data); err != nil {
		return nil, err
	}
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: maxUnzipped, UnzipXMLSizeLimit: maxUnzipped,
		ShortDatePattern: "yyyy-mm-dd", LongDatePattern: "yyyy-mm-dd"})
	if err != nil {
		return nil, xlsxFault(err)
	}
	defer func() { _ = f.Close() }()
	sheets := f.GetSheetList()
	if len(sheets) == 0 {
		return nil, fileFault("there is no sheet in it")
	}
	it, err := f.Rows(sheets[0])
	if err != nil {
		return nil, xlsxFault(err)
	}
	defer func() { _ = it.Close() }()
	var out [][]string
	for it.Next() {
		row, err := it.Columns()
		if err != nil {
			return nil, fileFault("line %d of the workbook cannot be read", len(out)+1)
		}
		if len(row) > maxLabColumn {
			return nil, fileFault("that is more than %d columns", maxLabColumn)
		}
		if out = append(out, row); len(out) > maxLabRows+1 {
			break
		}
	}
	return out, nil
}

// xlsxFault returns the reason why a workbook cannot be read.
func xlsxFault(err error) error {
	switch {
	case errors.Is(err, excelize.ErrWorkbookPassword), errors.Is(err, excelize.ErrWorkbookFileFormat):
		return fileFault("this workbook cannot be read: it has a password, or is no XLSX workbook")
	case strings.Contains(err.Error(), "unzip size"):
		return fileFault("this workbook cannot be read: it unpacks to more than %d MB", maxUnzipped>>20)
	}
	return fileFault("this workbook cannot be read: it is damaged, or is no XLSX workbook")
}

// checkXLSX unpacks a workbook once without storing it, so that one that would exhaust memory is
// refused before it is opened. The sizes that it declares are not trusted.
func checkXLSX(data []byte) error {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return xlsxFault(err)
	}
	if len(z.File) > maxParts {
		return fileFault("this workbook cannot be read: it has more than %d parts", maxParts)
	}
	left := int64(maxUnzipped)
	for _, part := range z.File {
		in, err := part.Open()
		if err != nil {
			return xlsxFault(err)
		}
		counted := &countedReader{r: io.LimitReader(in, left+1)}
		if strings.HasSuffix(strings.ToLower(part.Name), "sharedstrings.xml") {
			err = countTexts(counted)
		} else {
			_, err = io.Copy(io.Discard, counted)
		}
		_ = in.Close()
		if isFault(err) {
			return err
		}
		if err != nil {
			return xlsxFault(err)
		}
		if left -= counted.n; left < 0 {
			return fileFault("this workbook cannot be read: it unpacks to more than %d MB", maxUnzipped>>20)
		}
	}
	return nil
}

type countedReader struct {
	r io.Reader
	n int64
}

func (c *countedReader) Read(p []byte) (int, error) {
	n, err := c.r.Read(p)
	c.n += int64(n)
	return n, err
}

// countTexts counts a workbook's shared strings.
func countTexts(r *countedReader) error {
	d, n := xml.NewDecoder(r), 0
	for {
		t, err := d.RawToken()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		if e, ok := t.(xml.StartElement); ok && e.Name.Local == "si" {
			n++
		}
		if n > maxTexts || r.n > maxStrings {
			return fileFault("this workbook cannot be read: it holds more texts than a lab’s report has")
		}
	}
}
