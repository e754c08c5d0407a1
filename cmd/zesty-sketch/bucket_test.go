package main

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"filippo.io/age"

	"zestysketch/internal/mariadb/mariadbtest"
)

// A bucket is somebody else's disk: nothing goes there unencrypted, and what is wrong is said before the night.
func TestBucketIsChecked(t *testing.T) {
	key, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	n := nightly{dir: t.TempDir(), also: "s3://zesty/nights", keep: 2}
	if err := n.check(); !errors.Is(err, errUsage) || !strings.Contains(err.Error(), "--backups-to") {
		t.Errorf("unencrypted: %v", err)
	}
	n.to = key.Recipient().String()
	t.Setenv(envBucketServer, "")
	if err := n.check(); !errors.Is(err, errUsage) || !strings.Contains(err.Error(), envBucketServer) {
		t.Errorf("without a server: %v", err)
	}
	t.Setenv(envBucketServer, "http://127.0.0.1:1")
	if err := n.check(); err != nil {
		t.Error(err)
	}
	n.also = "s3://"
	if err := n.check(); !errors.Is(err, errUsage) {
		t.Errorf("without a bucket: %v", err)
	}
	if f := bucketIs(t.Context(), "s3://zesty/nights", time.Now()); f.level != trouble {
		t.Errorf("a server that is away: %+v", f)
	}
}

// Against a real server, which scripts/try-bucket starts: each night is copied, encrypted, and read back; old nights
// go; doctor knows the newest; and what is there is restored.
func TestBucket(t *testing.T) {
	folder := os.Getenv("ZESTY_S3_FOLDER") // of the server, in which a bucket is a folder
	if folder == "" {
		t.Skip("scripts/try-bucket starts a server for it")
	}
	key, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	dsn := mariadbtest.DSN(t)
	aTeacher(t, dsn)
	n := nightly{dir: t.TempDir(), also: "s3://zesty/nights", keep: 2, to: key.Recipient().String()}
	if err := n.check(); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"night-2026-11-29.backup", "night-2026-11-30.backup", "night-2026-12-01.backup"} {
		if err := n.night(t.Context(), dsn, name); err != nil {
			t.Fatal(err)
		}
	}
	there, _ := filepath.Glob(filepath.Join(folder, "zesty", "nights", "*"))
	if len(there) != 3 || filepath.Base(there[0]) != "forgotten.txt" || filepath.Base(there[2]) != "night-2026-12-01.backup" {
		t.Errorf("in the bucket: %v", there)
	}
	if f := n.second(t.Context(), time.Now(), false); f.level != well || !strings.Contains(f.say, "2 nights") {
		t.Errorf("%+v", f)
	}
	identity := write(t, "key.txt", []byte(key.String()+"\n"))
	if code, out, stderr := call("restore", "--dsn", mariadbtest.DSN(t), "--identity", identity, there[2]); code != 0 {
		t.Errorf("it is not restored: exit %d, %s %s", code, out, stderr)
	}
	n.also = "s3://nowhere"
	if err := n.carry(t.Context(), dsn, "night-2026-12-01.backup"); err == nil {
		t.Error("a bucket that is not there took it")
	}
}
