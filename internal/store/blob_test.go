package store

import (
	"bytes"
	"context"
	"errors"
	"io"
	"math/rand/v2"
	"testing"
	"testing/iotest"
)

// A file is read out of the database as it was put in, piece by piece, and only
// by its teacher.
func TestBlob(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, _, _ := room(t, s, "a@quay.example")
	other, _, _ := room(t, s, "b@quay.example")
	rng := rand.New(rand.NewPCG(1, 2))
	for _, size := range []int{0, 1, chunk - 1, chunk, 2*chunk + 12345} {
		want := make([]byte, size)
		for i := range want {
			want[i] = byte(rng.Uint32())
		}
		pic := Picture{TeacherID: teacher.ID, Name: "Pier", Hash: make([]byte, 32), Purpose: ForReference}
		if err := s.AddPicture(ctx, &pic, []PictureFile{{Role: Full, Kind: "image/jpeg", Bytes: want}}); err != nil {
			t.Fatal(err)
		}
		b, err := s.PictureBlob(ctx, teacher.ID, pic.ID, Full)
		if err != nil || b.Kind != "image/jpeg" || b.Size != int64(size) {
			t.Fatalf("%d bytes: %+v, %v", size, b, err)
		}
		if size < 2*chunk { // every way of reading and seeking
			if err := iotest.TestReader(b, want); err != nil {
				t.Errorf("%d bytes: %v", size, err)
			}
			continue
		}
		if got, err := io.ReadAll(b); err != nil || !bytes.Equal(got, want) {
			t.Errorf("%d bytes: read %d, %v", size, len(got), err)
		}
		if _, err := b.Seek(-100, io.SeekEnd); err != nil {
			t.Fatal(err)
		}
		if got, err := io.ReadAll(b); err != nil || !bytes.Equal(got, want[size-100:]) {
			t.Errorf("the last 100 bytes: %d, %v", len(got), err)
		}
		if _, err := s.PictureBlob(ctx, other.ID, pic.ID, Full); !errors.Is(err, ErrNotFound) {
			t.Errorf("another teacher's: %v; want ErrNotFound", err)
		}
	}
}
