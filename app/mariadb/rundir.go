package mariadb

import (
	"fmt"
	"os"
	"path/filepath"
	"syscall"
	"time"
)

const runDirs = "photherm-run-"

// makeRunDir makes the folder of the socket, out of the data folder, whose path may be too
// long for one. It is locked as long as this process lives, so that what a killed one left
// is known and cleared at the next start.
func makeRunDir() (dir string, lock *os.File, err error) {
	clearRunDirs()
	if dir, err = os.MkdirTemp("", runDirs); err != nil {
		return "", nil, fmt.Errorf("making a folder for the socket: %w", err)
	}
	if lock, err = lockDir(dir); err != nil {
		_ = os.RemoveAll(dir)
		return "", nil, err
	}
	return dir, lock, nil
}

// youngest is how old a folder without a lock must be to be taken as left behind, chosen:
// one that is just being made has none yet.
const youngest = time.Minute

func clearRunDirs() {
	left, _ := filepath.Glob(filepath.Join(os.TempDir(), runDirs+"*")) // the pattern is well-formed
	for _, dir := range left {
		info, err := os.Lstat(dir)
		if err != nil || !info.IsDir() {
			continue
		}
		lock, err := os.Open(filepath.Join(dir, lockName))
		switch {
		case err == nil:
			if syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB) == nil {
				_ = os.RemoveAll(dir) // another user's stays: it cannot even be opened
			}
			lock.Close()
		case os.IsNotExist(err) && time.Since(info.ModTime()) > youngest:
			_ = os.RemoveAll(dir)
		}
	}
}
