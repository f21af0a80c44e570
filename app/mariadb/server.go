// Package mariadb runs a private MariaDB server on loopback, with its data in a
// folder of the program's own. Nothing of a system-wide server is touched.
package mariadb

import (
	"bytes"
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Errors a person can act on.
var (
	ErrInUse        = errors.New("this data folder is in use by another running Photherm")
	ErrNotInstalled = errors.New("MariaDB is not installed: run scripts/setup, or install Debian's mariadb-server")
)

const (
	database    = "photherm"
	appUser     = "photherm"
	startWithin = 60 * time.Second
	stopWithin  = 20 * time.Second
)

// A Server is a running private server.
type Server struct {
	dir, runDir string
	runLock     *os.File
	port        int
	password    string
	lock        *os.File
	process     *os.Process
	exited      chan struct{}
}

// Options for Start.
type Options struct {
	Dir       string // folder of the data; made if absent
	Throwaway bool   // small and fast for tests, not safe against power cuts
}

// Start starts the server, making its data folder first if there is none. A
// server left over from a killed process is ended; its database recovers by
// itself.
func Start(ctx context.Context, o Options) (*Server, error) {
	dir, err := filepath.Abs(o.Dir)
	if err != nil {
		return nil, fmt.Errorf("data folder %s: %w", o.Dir, err)
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	if err := os.Chmod(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data folder private: %w", err)
	}
	s := &Server{dir: dir, exited: make(chan struct{})}
	if s.lock, err = lockDir(dir); err != nil {
		return nil, err
	}
	if err := s.start(ctx, o); err != nil {
		s.release()
		return nil, err
	}
	return s, nil
}

const lockName = "lock"

func lockDir(dir string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(dir, lockName), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("locking the data folder: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		f.Close()
		return nil, fmt.Errorf("%w: %s", ErrInUse, dir)
	}
	return f, nil
}

func (s *Server) start(ctx context.Context, o Options) error {
	s.endLeftover()
	err := s.initialise(ctx, o)
	if err != nil {
		return err
	}
	if s.password, err = s.readPassword(); err != nil {
		return err
	}
	// A socket path may have 107 bytes at most, so it is not in the data folder.
	if s.runDir, s.runLock, err = makeRunDir(); err != nil {
		return err
	}
	if s.port, err = freePort(); err != nil {
		return err
	}
	return s.run(ctx, o)
}

// Restart starts a server that has ended by itself again, where it was.
func (s *Server) Restart(ctx context.Context, o Options) error {
	s.exited = make(chan struct{})
	return s.run(ctx, o)
}

// run starts the process and waits until it answers.
func (s *Server) run(ctx context.Context, o Options) error {
	program, err := find("mariadbd")
	if err != nil {
		return err
	}
	if err := s.writeAccount(); err != nil {
		return err
	}
	args := []string{
		"--no-defaults", "--init-file=" + s.accountFile(), "--datadir=" + s.data(), "--socket=" + s.socket(), "--pid-file=" + s.pidFile(), "--tmpdir=" + s.runDir,
		"--bind-address=127.0.0.1", "--port=" + strconv.Itoa(s.port), "--skip-log-bin", "--skip-name-resolve", "--local-infile=0",
		"--skip-symbolic-links", "--secure-file-priv=" + s.data(), "--character-set-server=utf8mb4",
		"--collation-server=utf8mb4_unicode_520_ci", "--performance-schema=OFF", "--open-files-limit=1024",
		"--table-open-cache=200", "--max-connections=50",
	}
	if o.Throwaway {
		args = append(args, "--innodb-buffer-pool-size=16M", "--innodb-log-file-size=4M", "--innodb-flush-log-at-trx-commit=0",
			"--innodb-doublewrite=0", "--innodb-fast-shutdown=2", "--sync-frm=0", "--innodb-flush-method=nosync",
			"--innodb-buffer-pool-load-at-startup=0", "--innodb-buffer-pool-dump-at-shutdown=0")
	} else {
		args = append(args, "--innodb-buffer-pool-size=128M", "--innodb-flush-log-at-trx-commit=1", "--innodb-doublewrite=1", "--sync-frm=1")
	}
	if os.Geteuid() == 0 {
		args = append(args, "--user=root")
	}
	log, err := os.OpenFile(filepath.Join(s.dir, "mariadb.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("opening the database log: %w", err)
	}
	defer log.Close()
	if err := s.launch(program, args, log); err != nil {
		return err
	}
	if err := os.WriteFile(s.portFile(), []byte(strconv.Itoa(s.port)), 0o600); err != nil {
		s.kill()
		return fmt.Errorf("noting the database's port: %w", err)
	}
	if err := s.ready(ctx); err != nil {
		s.kill()
		return fmt.Errorf("starting the database (see %s): %w", log.Name(), err)
	}
	return nil
}

// launch starts the process so that it dies with this one, however this one
// ends. The signal is bound to the thread that starts the child, so that thread
// is held until the child has ended; it is SIGKILL because the server swallows
// SIGTERM while it starts.
func (s *Server) launch(program string, args []string, log *os.File) error {
	started := make(chan error, 1)
	go func() {
		runtime.LockOSThread()
		defer runtime.UnlockOSThread()
		cmd := exec.Command(program, args...)
		cmd.Stdout, cmd.Stderr = log, log
		cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL, Setpgid: true}
		err := cmd.Start()
		s.process = cmd.Process
		started <- err
		if err == nil {
			_ = cmd.Wait()
		}
		close(s.exited)
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("starting %s: %w", program, err)
	}
	return nil
}

// ready waits until the program's account is let in.
func (s *Server) ready(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, startWithin)
	defer cancel()
	c, err := mysql.ParseDSN(s.DSN(""))
	if err != nil {
		return err
	}
	c.Logger = silent{}
	connector, err := mysql.NewConnector(c)
	if err != nil {
		return err
	}
	db := sql.OpenDB(connector)
	defer db.Close()
	for {
		err := db.PingContext(ctx)
		var refused *mysql.MySQLError
		switch {
		case err == nil:
			return nil
		case errors.As(err, &refused):
			return fmt.Errorf("the database answers, and refuses the program's account: %w", err)
		}
		select {
		case <-s.exited:
			return errors.New("the server ended by itself")
		case <-ctx.Done():
			return fmt.Errorf("no answer within %v", startWithin)
		case <-time.After(25 * time.Millisecond):
		}
	}
}

// writeAccount writes what the server is to do before it answers anyone: the program's
// account has rights on its own database alone. Nobody needs to log in for it, so that it
// does not matter which user of the system made the data folder.
func (s *Server) writeAccount() error {
	account := "'" + appUser + "'@'127.0.0.1'"
	statements := strings.Join([]string{
		"CREATE DATABASE IF NOT EXISTS " + database + ";",
		"CREATE USER IF NOT EXISTS " + account + ";",
		"REVOKE ALL PRIVILEGES, GRANT OPTION FROM " + account + ";",
		"ALTER USER " + account + " IDENTIFIED BY '" + s.password + "';", // hex digits only
		"GRANT ALL ON " + database + ".* TO " + account + ";", "",
	}, "\n")
	if err := os.WriteFile(s.accountFile(), []byte(statements), 0o600); err != nil {
		return fmt.Errorf("writing the database's account: %w", err)
	}
	return nil
}

type silent struct{}

func (silent) Print(...any) {}

// initialise makes the data folder: under a name of its own, which nothing left over from
// an interrupted start writes into, and renamed when it is whole.
func (s *Server) initialise(ctx context.Context, o Options) error {
	if _, err := os.Stat(s.data()); err == nil {
		s.clearHalfMade()
		return nil
	}
	program, err := find("mariadb-install-db")
	if err != nil {
		return err
	}
	// On a machine that is short of something for a moment the script fails, and does not the
	// next time.
	for try := 1; ; try++ {
		if err = s.install(ctx, program, o); err == nil || try == installTries || ctx.Err() != nil {
			return err
		}
		slog.Warn("making the database failed; trying again", "error", err)
	}
}

const installTries = 3

func (s *Server) install(ctx context.Context, program string, o Options) error {
	s.clearHalfMade()
	fresh, err := os.MkdirTemp(s.dir, filepath.Base(s.data())+".init-")
	if err != nil {
		return fmt.Errorf("making a folder for the database: %w", err)
	}
	args := []string{"--no-defaults", "--datadir=" + fresh, "--auth-root-authentication-method=socket", "--skip-test-db", "--skip-name-resolve"}
	if os.Geteuid() == 0 {
		args = append(args, "--user=root")
	}
	if o.Throwaway {
		args = append(args, "--innodb-log-file-size=4M")
	}
	out, err := s.attended(ctx, program, args)
	if err != nil {
		return fmt.Errorf("making the database: %w: %s", err, bytes.TrimSpace(out))
	}
	if err := os.Rename(fresh, s.data()); err != nil {
		return fmt.Errorf("making the database: %w", err)
	}
	s.clearHalfMade()
	return nil
}

// clearHalfMade removes what interrupted starts left. What still writes there ends soon
// by itself; its folder goes at a later start.
func (s *Server) clearHalfMade() {
	halfMade, _ := filepath.Glob(s.data() + ".init*") // the pattern is well-formed
	for _, dir := range halfMade {
		_ = os.RemoveAll(dir)
	}
}

// attended runs a program and what it starts: with the context, and with this process,
// they end.
func (s *Server) attended(ctx context.Context, program string, args []string) ([]byte, error) {
	runtime.LockOSThread() // the death signal is bound to the thread
	defer runtime.UnlockOSThread()
	cmd := exec.CommandContext(ctx, program, args...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL, Setpgid: true}
	cmd.Cancel = func() error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }
	return cmd.CombinedOutput()
}

func (s *Server) readPassword() (string, error) {
	name := filepath.Join(s.dir, "password")
	old, err := os.ReadFile(name)
	if password := strings.TrimSpace(string(old)); err == nil && len(password) == 32 {
		if _, err := hex.DecodeString(password); err == nil {
			return password, nil
		}
	}
	password := make([]byte, 16)
	if _, err := rand.Read(password); err != nil {
		return "", fmt.Errorf("making a password: %w", err)
	}
	text := hex.EncodeToString(password)
	if err := os.WriteFile(name, []byte(text), 0o600); err != nil {
		return "", fmt.Errorf("keeping the database password: %w", err)
	}
	return text, nil
}

// endLeftover ends a server that an earlier process left behind on this folder.
func (s *Server) endLeftover() {
	text, err := os.ReadFile(s.pidFile())
	if err != nil {
		return
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(text)))
	if err != nil || pid <= 1 {
		return
	}
	command, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	if err != nil || !bytes.Contains(command, []byte("mariadbd")) || !bytes.Contains(command, []byte("--datadir="+s.data()+"\x00")) {
		return
	}
	_ = syscall.Kill(pid, syscall.SIGTERM)
	for range 100 {
		time.Sleep(50 * time.Millisecond)
		if syscall.Kill(pid, 0) != nil {
			return
		}
	}
	_ = syscall.Kill(pid, syscall.SIGKILL)
}

// DSN is the data source name of a database on this server; an empty name is the
// program's own.
func (s *Server) DSN(name string) string {
	if name == "" {
		name = database
	}
	c := mysql.NewConfig()
	c.Net, c.Addr = "tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(s.port))
	c.User, c.Passwd, c.DBName = appUser, s.password, name
	return c.FormatDSN()
}

// Exited is closed when the server has ended.
func (s *Server) Exited() <-chan struct{} { return s.exited }

// Stop ends the server cleanly and waits for it.
func (s *Server) Stop() {
	if s.process != nil {
		_ = s.process.Signal(syscall.SIGTERM)
		select {
		case <-s.exited:
		case <-time.After(stopWithin):
			s.kill()
		}
	}
	s.release()
}

func (s *Server) kill() {
	if s.process != nil {
		_ = s.process.Kill()
		<-s.exited
	}
}

func (s *Server) release() {
	if s.runDir != "" {
		_ = os.RemoveAll(s.runDir)
	}
	if s.runLock != nil {
		s.runLock.Close()
	}
	if s.lock != nil {
		s.lock.Close()
	}
}

func (s *Server) data() string        { return filepath.Join(s.dir, "data") }
func (s *Server) socket() string      { return filepath.Join(s.runDir, "db.sock") }
func (s *Server) accountFile() string { return filepath.Join(s.runDir, "account.sql") }
func (s *Server) pidFile() string     { return filepath.Join(s.dir, "mariadb.pid") }
func (s *Server) portFile() string    { return filepath.Join(s.dir, "mariadb.port") }

// Running is the data source name of the server another process runs on a folder, for
// one that found ErrInUse there.
func Running(dir string) (string, error) {
	s := &Server{dir: dir}
	text, err := os.ReadFile(s.portFile())
	if err != nil {
		return "", fmt.Errorf("finding the running database: %w", err)
	}
	if s.port, err = strconv.Atoi(strings.TrimSpace(string(text))); err != nil {
		return "", fmt.Errorf("finding the running database: %w", err)
	}
	if s.password, err = s.readPassword(); err != nil {
		return "", err
	}
	return s.DSN(""), nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, fmt.Errorf("finding a free port: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func find(program string) (string, error) {
	if path, err := exec.LookPath(program); err == nil {
		return path, nil
	}
	path := filepath.Join("/usr/sbin", program)
	if _, err := os.Stat(path); err != nil {
		return "", ErrNotInstalled
	}
	return path, nil
}
