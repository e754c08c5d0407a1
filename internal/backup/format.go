// Package backup writes everything that a school's database holds into one file,
// while the server works on, and reads it back into an empty one. The file is
// zesty-backup/1, docs/formats.md: a line of JSON, every row of every table, and
// a sum over all of it.
package backup

import (
	"bufio"
	"crypto/sha256"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"time"
)

// Format names the version of the file.
const Format = "zesty-backup/1"

// Ending is that of the names of backups that the server makes, and Sealed how a
// file begins that is encrypted to somebody's key (age-encryption.org/v1).
const Ending, Sealed = ".backup", "age-encryption.org/"

// Header is the file's first line.
type Header struct {
	Format string    `json:"format"`
	Made   time.Time `json:"made"`
	Tables string    `json:"tables"`           // the last migration that its tables had
	School *OfSchool `json:"school,omitempty"` // where it is of one of several
	Of     []Table   `json:"of"`
}

// Table is one table and its columns, in the order of its rows' values.
type Table struct {
	Name    string   `json:"name"`
	Columns []string `json:"columns"`
}

// ErrFile is wrapped by the error of a file that is not a whole backup.
var ErrFile = errors.New("not a backup that can be restored")

// What a row's beginning says, and the end of a table's rows.
const rowFollows, tableEnds = 1, 0

// longestHeader and longestValue bound what is believed of a file.
const longestHeader, longestValue = 1 << 20, 256 << 20

// writer writes the file and sums it up.
type writer struct {
	out *bufio.Writer
	sum hash.Hash
	err error
}

func newWriter(out io.Writer) *writer {
	sum := sha256.New()
	return &writer{out: bufio.NewWriterSize(io.MultiWriter(out, sum), 1<<20), sum: sum}
}

func (w *writer) write(b []byte) {
	if w.err == nil {
		_, w.err = w.out.Write(b)
	}
}

func (w *writer) header(h Header) {
	b, err := json.Marshal(h)
	w.err = errors.Join(w.err, err)
	w.write(append(b, '\n'))
}

// value writes a length one more than the value has, then the value; 0 is NULL.
func (w *writer) value(b []byte) {
	var length [binary.MaxVarintLen64]byte
	n := uint64(0)
	if b != nil {
		n = uint64(len(b)) + 1
	}
	w.write(length[:binary.PutUvarint(length[:], n)])
	w.write(b)
}

// end writes what is buffered and the sum over it.
func (w *writer) end(out io.Writer) error {
	if err := errors.Join(w.err, w.out.Flush()); err != nil {
		return err
	}
	_, err := out.Write(w.sum.Sum(nil))
	return err
}

// Check reads a whole file and returns its header. The error wraps ErrFile for
// one that is cut off, altered or something else.
func Check(in io.Reader) (Header, error) {
	r := bufio.NewReaderSize(in, 1<<20)
	sum := sha256.New()
	h, err := readHeader(r, sum)
	if err != nil {
		return h, err
	}
	// The last bytes are the sum, and are not in it.
	tail := make([]byte, sha256.Size)
	if _, err := io.ReadFull(r, tail); err != nil {
		return h, fmt.Errorf("%w: it is cut off", ErrFile)
	}
	block := make([]byte, 1<<20)
	for {
		n, err := r.Read(block)
		if n > 0 {
			all := append(tail, block[:n]...)
			sum.Write(all[:n])
			tail = append(tail[:0:0], all[n:]...)
		}
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return h, err
		}
	}
	if string(tail) != string(sum.Sum(nil)) {
		return h, fmt.Errorf("%w: it is cut off or was altered since it was made; take another", ErrFile)
	}
	return h, nil
}

// Encrypted reports whether a file begins as one that is encrypted to somebody's key.
func Encrypted(in io.Reader) bool {
	head := make([]byte, len(Sealed))
	n, _ := io.ReadFull(in, head)
	return string(head[:n]) == Sealed
}

// Begins reads how a backup begins, and no more. The error wraps ErrFile.
func Begins(in io.Reader) (Header, error) { return readHeader(bufio.NewReaderSize(in, 1<<20), nil) }

func readHeader(r *bufio.Reader, sum hash.Hash) (h Header, err error) {
	line, err := r.ReadSlice('\n')
	for errors.Is(err, bufio.ErrBufferFull) {
		return h, fmt.Errorf("%w: it does not begin as one", ErrFile)
	}
	if err != nil || len(line) > longestHeader {
		return h, fmt.Errorf("%w: it does not begin as one", ErrFile)
	}
	if sum != nil {
		sum.Write(line)
	}
	if err := json.Unmarshal(line, &h); err != nil || h.Format == "" {
		return h, fmt.Errorf("%w: it does not begin as one", ErrFile)
	}
	if h.Format != Format {
		return h, fmt.Errorf("%w: the file is %s, and this program reads %s", ErrFile, h.Format, Format)
	}
	for _, t := range h.Of {
		if t.Name == "" || len(t.Columns) == 0 {
			return h, fmt.Errorf("%w: it lists a table without a name or without columns", ErrFile)
		}
	}
	return h, nil
}

// value reads what writer.value wrote; nil for NULL.
func value(r *bufio.Reader) ([]byte, error) {
	n, err := binary.ReadUvarint(r)
	if err != nil || n == 0 {
		return nil, err
	}
	if n-1 > longestValue {
		return nil, fmt.Errorf("%w: a value of %d bytes", ErrFile, n-1)
	}
	b := make([]byte, n-1)
	_, err = io.ReadFull(r, b)
	return b, err
}
