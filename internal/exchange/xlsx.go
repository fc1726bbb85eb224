package exchange

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"strings"

	"github.com/xuri/excelize/v2"

	"zephyrfield/internal/bounded"
)

// Limits of a workbook, unzipped. Sheets and shared strings may hold a report of 5,000 samples; the other parts
// (styles, theme, properties) are parsed as a whole, which takes a hundred times their size.
const (
	maxUnzipped     = 40 << 20
	maxSheet        = 24 << 20
	maxPart         = 2 << 20
	maxElements     = 1_500_000
	maxTextElements = 400_000
	maxPartElements = 20_000
	maxDepth        = 100
	maxToken        = 64 << 10
	maxParts        = 200
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
			return nil, tooWide()
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
	left := workbookRoom{bytes: maxUnzipped, elements: maxElements}
	for _, part := range z.File {
		if err := left.take(part); err != nil {
			return err
		}
	}
	return nil
}

// workbookRoom is what the parts of a workbook may still hold together.
type workbookRoom struct {
	bytes    int64
	elements int
}

// take checks a part and takes off what it holds.
func (w *workbookRoom) take(part *zip.File) error {
	in, err := part.Open()
	if err != nil {
		return xlsxFault(err)
	}
	defer func() { _ = in.Close() }()
	name := strings.ToLower(strings.ReplaceAll(part.Name, `\`, "/"))
	limits := partLimits{bytes: maxPart, elements: maxPartElements}
	switch {
	case strings.HasPrefix(name, "xl/worksheets/"):
		limits = partLimits{bytes: maxSheet, elements: maxElements, cells: true}
	case strings.HasSuffix(name, "sharedstrings.xml"):
		limits = partLimits{bytes: maxSheet, elements: maxTextElements}
	}
	counted := &countedReader{r: io.LimitReader(in, w.bytes+1)}
	n, err := limits.elementsOf(counted)
	isXML := !isSyntax(err)
	if !isXML {
		// A picture, or damaged: it is not parsed further than to here. Its size counts all the same.
		_, err = io.Copy(io.Discard, counted)
	}
	w.bytes, w.elements = w.bytes-counted.n, w.elements-n
	switch {
	case isFault(err):
		return err
	case err != nil:
		return xlsxFault(err)
	case w.bytes < 0:
		return fileFault("this workbook cannot be read: it unpacks to more than %d MB", maxUnzipped>>20)
	case w.elements < 0, isXML && counted.n > limits.bytes:
		return tooMuchInside()
	}
	return nil
}

// isSyntax reports whether an error is of a part's contents, not of its unpacking.
func isSyntax(err error) bool {
	var syntax *xml.SyntaxError
	return errors.As(err, &syntax)
}

func tooMuchInside() error {
	return fileFault("this workbook cannot be read: it holds more than a lab’s report has")
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

// partLimits bound one part; with cells, also the cells of its rows.
type partLimits struct {
	bytes    int64
	elements int
	cells    bool
}

// elementsOf counts the elements of a part, unless there are too many.
func (l partLimits) elementsOf(r io.Reader) (n int, err error) {
	d, column, depth := bounded.NewXML(r, maxToken), 0, 0
	for {
		t, err := d.RawToken()
		switch {
		case errors.Is(err, io.EOF):
			return n, nil
		case errors.Is(err, bounded.ErrTooLong):
			return n, tooMuchInside()
		case err != nil:
			return n, err
		}
		if _, ends := t.(xml.EndElement); ends {
			depth--
		}
		e, starts := t.(xml.StartElement)
		if !starts {
			continue
		}
		n++
		if depth++; depth > maxDepth || n > l.elements {
			return n, tooMuchInside()
		}
		switch e.Name.Local {
		case "row":
			column = 0
		case "c":
			column = cellColumn(e, column+1)
		case "v", "f", "is":
			// Cells that are only coloured may lie anywhere.
			if l.cells && column > maxLabColumn {
				return n, tooWide()
			}
		}
	}
}

// cellColumn returns a cell's column from 1, by its name or else the one that is next.
func cellColumn(cell xml.StartElement, next int) int {
	for _, a := range cell.Attr {
		if a.Name.Local == "r" {
			if column, _, err := excelize.CellNameToCoordinates(a.Value); err == nil {
				return column
			}
		}
	}
	return next
}
