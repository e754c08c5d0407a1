package main

import (
	"context"
	"crypto/sha256"
	"fmt"
	"io"
	"net/url"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/minio/minio-go/v7"
	"github.com/minio/minio-go/v7/pkg/credentials"

	"zestysketch/internal/backup"
)

// The variables that say how a bucket is reached: its server, https://host, and the account there.
const (
	envBucketServer = "ZESTY_S3_SERVER"
	envBucketKey    = "ZESTY_S3_KEY"
	envBucketSecret = "ZESTY_S3_SECRET"
)

// bucketMark begins the second place of backups where it is a bucket of object storage: s3://bucket/folder.
const bucketMark = "s3://"

// bucket is one, at a server that speaks S3.
type bucket struct {
	*minio.Client
	name, folder string
}

// openBucket reads which bucket is meant, and how it is reached, from its address and the environment.
func openBucket(address string) (b bucket, err error) {
	server, err := url.Parse(os.Getenv(envBucketServer))
	if err != nil || server.Host == "" || server.Scheme != "https" && server.Scheme != "http" {
		return b, fmt.Errorf("%w: --backups-also %s: wanted https://host in %s, got %q", errUsage, address, envBucketServer, os.Getenv(envBucketServer))
	}
	b.name, b.folder, _ = strings.Cut(strings.TrimPrefix(address, bucketMark), "/")
	if b.name == "" {
		return b, fmt.Errorf("%w: --backups-also: wanted %sbucket or %[2]sbucket/folder, got %q", errUsage, bucketMark, address)
	}
	b.Client, err = minio.New(server.Host, &minio.Options{Secure: server.Scheme == "https",
		Creds: credentials.NewStaticV4(os.Getenv(envBucketKey), os.Getenv(envBucketSecret), "")})
	return b, err
}

func (b bucket) at(name string) string { return strings.TrimPrefix(path.Join(b.folder, name), "/") }

// put copies a file to the bucket, and reads it back.
func (b bucket) put(ctx context.Context, from string) error {
	name := b.at(filepath.Base(from))
	sum, err := summed(from, func(r io.Reader) error {
		info, err := os.Stat(from)
		if err != nil {
			return err
		}
		_, err = b.PutObject(ctx, b.name, name, r, info.Size(), minio.PutObjectOptions{ContentType: "application/octet-stream"})
		return err
	})
	if err != nil {
		return err
	}
	back, err := b.GetObject(ctx, b.name, name, minio.GetObjectOptions{})
	if err != nil {
		return err
	}
	defer back.Close()
	of := sha256.New()
	if _, err := io.Copy(of, back); err != nil {
		return err
	}
	if [sha256.Size]byte(of.Sum(nil)) != sum {
		return fmt.Errorf("%s reads back otherwise than it was written", name)
	}
	return nil
}

// nights returns the nights' backups in the bucket with when they came, the oldest first.
func (b bucket) nights(ctx context.Context) (names []string, newest time.Time, err error) {
	for o := range b.ListObjects(ctx, b.name, minio.ListObjectsOptions{Prefix: b.at(nightBegins)}) {
		if o.Err != nil {
			return nil, newest, o.Err
		}
		if isNight(path.Base(o.Key)) {
			names = append(names, path.Base(o.Key))
		}
		if strings.HasSuffix(o.Key, backup.Ending) && o.LastModified.After(newest) {
			newest = o.LastModified
		}
	}
	slices.Sort(names)
	return names, newest, nil
}

// keep copies a night's backup and the list of who was forgotten to the bucket, and removes old nights.
func (b bucket) keep(ctx context.Context, dir, name string, most int) error {
	for _, one := range []string{name, backup.ForgottenFile} {
		if err := b.put(ctx, filepath.Join(dir, one)); err != nil {
			return fmt.Errorf("the bucket %s: %w", b.name, err)
		}
	}
	names, _, err := b.nights(ctx)
	if err != nil {
		return err
	}
	for _, old := range names[:max(0, len(names)-most)] {
		if err := b.RemoveObject(ctx, b.name, b.at(old), minio.RemoveObjectOptions{}); err != nil {
			return err
		}
	}
	return nil
}

// bucketIs looks whether the bucket can be reached, and how old its newest backup is.
func bucketIs(ctx context.Context, address string, now time.Time) finding {
	b, err := openBucket(address)
	if err != nil {
		return finding{trouble, "backups", err.Error()}
	}
	names, newest, err := b.nights(ctx)
	switch {
	case err != nil:
		return finding{trouble, "backups", fmt.Sprintf("%s: %v", address, err)}
	case newest.IsZero():
		return finding{trouble, "backups", "none in " + address + " yet: the first comes at half past two at night"}
	case now.Sub(newest) > oldBackup:
		return finding{trouble, "backups", fmt.Sprintf("the newest in %s is %.0f hours old: what does the log say of the night?", address, now.Sub(newest).Hours())}
	}
	return finding{well, "backups", fmt.Sprintf("%d nights in %s, the newest %.0f hours old, encrypted", len(names), address, now.Sub(newest).Hours())}
}
