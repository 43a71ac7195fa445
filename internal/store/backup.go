package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/jmoiron/sqlx"
)

// copyTo copies the database as it is now, while others read and write it. The file is complete and
// on the disk, or missing. An existing one is replaced.
func copyTo(ctx context.Context, db *sqlx.DB, file string) error {
	part := file + ".part"
	if err := os.Remove(part); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	defer os.Remove(part)
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", part); err != nil {
		return Translated(err)
	}
	if err := os.Chmod(part, 0o600); err != nil {
		return err
	}
	if err := settle(part); err != nil {
		return err
	}
	if err := os.Rename(part, file); err != nil {
		return err
	}
	return settle(filepath.Dir(file))
}

// settle waits until a file, or a folder's list of names, is on the disk.
func settle(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	return f.Sync()
}

// Copied describes the result of a backup or a restoration.
type Copied struct {
	Schema  int64 // number of the database's schema
	Pockets int
	Bytes   int64
}

// Backup copies the data folder's database to file, also while a service uses it. It never replaces
// an existing file.
func Backup(ctx context.Context, folder, file string) (Copied, error) {
	from := filepath.Join(folder, File)
	if _, err := os.Stat(from); err != nil {
		return Copied{}, fmt.Errorf("there is no database in %s. Name the data folder with -data", folder)
	}
	if _, err := os.Stat(file); err == nil {
		return Copied{}, fmt.Errorf("%s already exists. Choose another name, or delete it first", file)
	}
	if info, err := os.Stat(filepath.Dir(file)); err != nil || !info.IsDir() {
		return Copied{}, fmt.Errorf("the backup cannot be written, because there is no folder %s. Create it, or name another", filepath.Dir(file))
	}
	db, err := sqlx.Open("sqlite", from+pragmas)
	if err != nil {
		return Copied{}, err
	}
	defer db.Close()
	if err := copyTo(ctx, db, file); err != nil {
		return Copied{}, fmt.Errorf("the backup could not be written to %s: %w", file, err)
	}
	c, err := inspect(ctx, file)
	if err != nil {
		return c, fmt.Errorf("the backup was written but cannot be read back: %w", err)
	}
	return c, nil
}

// Restore makes a backup the data folder's database. No service may be using the folder. An
// existing database is kept under another name, which is returned.
func Restore(ctx context.Context, folder, file string, now time.Time) (c Copied, aside string, err error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return c, "", cannotWrite(folder, err)
	}
	lock, err := hold(folder)
	if err != nil {
		return c, "", err
	}
	defer lock.Close()
	if c, err = inspect(ctx, file); err != nil {
		return c, "", err
	}
	to := filepath.Join(folder, File)
	part := to + ".part"
	if err := os.Remove(part); err != nil && !errors.Is(err, os.ErrNotExist) {
		return c, "", err
	}
	defer os.Remove(part)
	text, err := os.Open(file)
	if err != nil {
		return c, "", err
	}
	defer text.Close()
	out, err := os.OpenFile(part, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return c, "", cannotWrite(folder, err)
	}
	_, err = out.ReadFrom(text)
	if err := errors.Join(err, out.Sync(), out.Close()); err != nil {
		return c, "", fmt.Errorf("the backup could not be copied into %s, and nothing was changed: %w", folder, err)
	}
	if _, err := os.Stat(to); err == nil {
		aside = fmt.Sprintf("%s.replaced-%s", to, now.UTC().Format("20060102-150405"))
		// Move the write-ahead log too: it contains the newest commits.
		for _, ending := range []string{"", "-wal", "-shm"} {
			if err := os.Rename(to+ending, aside+ending); err != nil && !errors.Is(err, os.ErrNotExist) {
				return c, "", err
			}
		}
	}
	if err := os.Rename(part, to); err != nil {
		return c, aside, err
	}
	return c, aside, settle(folder)
}

// inspect reads a whole database file, and reports whether this program can use it.
func inspect(ctx context.Context, file string) (c Copied, err error) {
	info, err := os.Stat(file)
	if err != nil {
		return c, fmt.Errorf("there is no backup %s", file)
	}
	c.Bytes = info.Size()
	db, err := sqlx.Open("sqlite", "file:"+file+"?mode=ro&immutable=1")
	if err != nil {
		return c, err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	bad := func(err error) error { return fmt.Errorf("%s is not an intact backup: %w", file, err) }
	var verdict string
	if err := db.GetContext(ctx, &verdict, "PRAGMA integrity_check(1)"); err != nil {
		return c, bad(err)
	}
	if verdict != "ok" {
		return c, bad(errors.New(verdict))
	}
	if err := db.GetContext(ctx, &c.Schema, "SELECT max(version_id) FROM goose_db_version WHERE is_applied"); err != nil {
		return c, bad(errors.New("it is a database of another program"))
	}
	if err := db.GetContext(ctx, &c.Pockets, "SELECT count(*) FROM pockets"); err != nil {
		return c, bad(err)
	}
	p, err := steps(db)
	if err != nil {
		return c, err
	}
	if sources := p.ListSources(); c.Schema > sources[len(sources)-1].Version {
		return c, fmt.Errorf("%s was written by a newer glasspocketd (schema %d; this program knows %d). Use that program", file, c.Schema, sources[len(sources)-1].Version)
	}
	return c, nil
}
