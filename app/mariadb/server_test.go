package mariadb

import (
	"context"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// A server keeps to itself: its folder is private, it listens on loopback with a
// password of its own, a second one on the folder is refused at once, and what was
// written is there after a stop and a start.
func TestPrivateServer(t *testing.T) {
	ctx := context.Background()
	dir := filepath.Join(t.TempDir(), "data")
	s, err := Start(ctx, Options{Dir: dir, Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	defer func() { s.Stop() }()
	for name, mode := range map[string]os.FileMode{"": 0o700, "password": 0o600} {
		info, err := os.Stat(filepath.Join(dir, name))
		if err != nil || info.Mode().Perm() != mode {
			t.Errorf("%q has mode %v: %v", name, info.Mode(), err)
		}
	}
	if _, err := Start(ctx, Options{Dir: dir, Throwaway: true}); !errors.Is(err, ErrInUse) {
		t.Errorf("a second server on the folder: %v", err)
	}
	exec := func(dsn, query string) error {
		db, err := sql.Open("mysql", dsn)
		if err != nil {
			return err
		}
		defer db.Close()
		_, err = db.ExecContext(ctx, query)
		return err
	}
	if err := exec(s.DSN(""), "CREATE TABLE kept (n INT)"); err != nil {
		t.Fatal(err)
	}
	if err := exec(strings.Replace(s.DSN(""), s.password, "guess", 1), "SELECT 1"); err == nil || !strings.Contains(err.Error(), "denied") {
		t.Errorf("a wrong password: %v", err)
	}
	for _, query := range []string{"CREATE DATABASE other", "SELECT * FROM mysql.global_priv", "SELECT LOAD_FILE('/etc/hostname') INTO OUTFILE 'x'", "SHUTDOWN"} {
		if err := exec(s.DSN(""), query); err == nil || !strings.Contains(err.Error(), "denied") {
			t.Errorf("%s: the program's account may do it: %v", query, err)
		}
	}
	if dsn, err := Running(dir); err != nil || exec(dsn, "SELECT * FROM kept") != nil {
		t.Errorf("another command finds it not: %q, %v", strings.Replace(dsn, s.password, "…", 1), err)
	}
	if !strings.Contains(s.DSN(""), "tcp(127.0.0.1:") {
		t.Errorf("it listens at %s", strings.Replace(s.DSN(""), s.password, "…", 1))
	}
	// A folder from before had an account that may do everything, under another password;
	// who started that server, and under what name, is of no account.
	s.Stop()
	t.Setenv("USER", "nobody-of-that-name")
	if err := os.WriteFile(filepath.Join(dir, "password"), []byte("0123456789abcdef0123456789abcdef"), 0o600); err != nil {
		t.Fatal(err)
	}
	if s, err = Start(ctx, Options{Dir: dir, Throwaway: true}); err != nil {
		t.Fatal(err)
	}
	if err := exec(s.DSN(""), "INSERT INTO kept VALUES (1)"); err != nil {
		t.Errorf("after a stop and a start: %v", err)
	}
}

// Making the database is withdrawn half way: the next start makes it anew.
func TestHalfMadeIsMadeAgain(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "data")
	if err := os.MkdirAll(filepath.Join(dir, "data.init-1", "mysql"), 0o700); err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Start(ctx, Options{Dir: dir, Throwaway: true}); err == nil {
		t.Fatal("a withdrawn start succeeds")
	}
	s, err := Start(context.Background(), Options{Dir: dir, Throwaway: true})
	if err != nil {
		t.Fatal(err)
	}
	defer s.Stop()
	if left, _ := filepath.Glob(filepath.Join(dir, "data.init*")); len(left) > 0 {
		t.Errorf("%v is left over", left)
	}
}

// What a killed program left in the folder of temporary files goes at the next start; what
// belongs to one that lives stays, and so does what is not ours.
func TestRunDirsCleared(t *testing.T) {
	t.Setenv("TMPDIR", t.TempDir())
	live, lock, err := makeRunDir()
	if err != nil {
		t.Fatal(err)
	}
	defer lock.Close()
	killed, left, err := makeRunDir()
	if err != nil {
		t.Fatal(err)
	}
	left.Close() // as the end of a process does
	making := filepath.Join(os.TempDir(), runDirs+"young")
	other := filepath.Join(os.TempDir(), "photherm-notes")
	for _, dir := range []string{making, other} {
		if err := os.Mkdir(dir, 0o700); err != nil {
			t.Fatal(err)
		}
	}
	_, next, err := makeRunDir()
	if err != nil {
		t.Fatal(err)
	}
	defer next.Close()
	for dir, stays := range map[string]bool{live: true, killed: false, making: true, other: true} {
		if _, err := os.Stat(dir); (err == nil) != stays {
			t.Errorf("%s: %v", dir, err)
		}
	}
	old := time.Now().Add(-2 * youngest)
	if err := os.Chtimes(making, old, old); err != nil {
		t.Fatal(err)
	}
	clearRunDirs()
	if _, err := os.Stat(making); err == nil {
		t.Error("one that never got its lock is kept for ever")
	}
}
