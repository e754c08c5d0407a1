package store

import (
	"context"
	"errors"
	"io"

	"gorm.io/gorm"
)

// chunk is how much of a file is fetched at a time: a slow reader holds no more
// of it in memory.
const chunk = 512 << 10

// Blob reads a file out of the database piece by piece. It is an io.ReadSeeker
// for one goroutine.
type Blob struct {
	Kind string // image/jpeg, …
	Size int64

	fetch func(from, n int64) ([]byte, error)
	at    int64  // where is read next
	piece []byte // what was fetched, from its own beginning on
	from  int64
}

// blob opens what a query finds: one row with the column bytes, and a kind.
func blob(query func() *gorm.DB, kind string) (*Blob, error) {
	var first []struct {
		Kind string
		Size int64
		Head []byte
	}
	err := query().Select(kind+" AS kind, LENGTH(bytes) AS size, SUBSTRING(bytes, 1, ?) AS head", chunk).Limit(1).Find(&first).Error
	if err != nil {
		return nil, err
	}
	if len(first) == 0 {
		return nil, ErrNotFound
	}
	fetch := func(from, n int64) ([]byte, error) {
		var next []struct{ Piece []byte }
		err := query().Select("SUBSTRING(bytes, ?, ?) AS piece", from+1, n).Limit(1).Find(&next).Error
		if err == nil && len(next) == 0 {
			err = ErrNotFound // it was removed while it was read
		}
		if err != nil {
			return nil, err
		}
		return next[0].Piece, nil
	}
	return &Blob{Kind: first[0].Kind, Size: first[0].Size, fetch: fetch, piece: first[0].Head}, nil
}

// Read reads on from where it is.
func (b *Blob) Read(p []byte) (int, error) {
	if b.at >= b.Size {
		return 0, io.EOF
	}
	if b.at < b.from || b.at >= b.from+int64(len(b.piece)) {
		piece, err := b.fetch(b.at, chunk)
		if err != nil {
			return 0, err
		}
		if len(piece) == 0 {
			return 0, io.ErrUnexpectedEOF
		}
		b.piece, b.from = piece, b.at
	}
	n := copy(p, b.piece[b.at-b.from:])
	b.at += int64(n)
	return n, nil
}

// Seek goes to another place.
func (b *Blob) Seek(offset int64, whence int) (int64, error) {
	switch whence {
	case io.SeekCurrent:
		offset += b.at
	case io.SeekEnd:
		offset += b.Size
	}
	if offset < 0 {
		return b.at, errors.New("before the beginning of the file")
	}
	b.at = offset
	return offset, nil
}

// PictureBlob opens one rendering of one of the teacher's pictures.
func (s *Store) PictureBlob(ctx context.Context, teacher, id uint64, role Role) (*Blob, error) {
	return blob(func() *gorm.DB {
		return s.with(ctx).Model(&PictureFile{}).Joins("JOIN pictures ON pictures.id = picture_files.picture_id").
			Where("pictures.teacher_id = ? AND picture_id = ? AND role = ?", teacher, id, role)
	}, "picture_files.kind")
}

// SetBlob opens a finished set's PDF, of a job that the caller has fetched.
func (s *Store) SetBlob(ctx context.Context, job uint64) (*Blob, error) {
	return blob(func() *gorm.DB {
		return s.with(ctx).Model(&JobFile{}).Joins("JOIN jobs ON jobs.id = job_files.job_id").Where("job_id = ? AND kind = ? AND state = ?", job, SetJob, Done)
	}, "'application/pdf'")
}
