package sandbox_test

import (
	"context"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/toolchain/sandbox"
)

// python is a job of Debian's interpreter with a program.
func python(program string) sandbox.Job {
	return sandbox.Job{
		Program: "/usr/bin/python3", Args: []string{"-I", "-S", "-c", program},
		Read: []string{"/usr/lib", "/lib", "/lib64", "/etc/ld.so.cache"},
		CPU:  5 * time.Second, Wall: 10 * time.Second, Memory: 512 << 20, File: 1 << 20,
	}
}

// attempts is what a program that means ill tries, each a line of Python that must not work.
var attempts = map[string]string{
	"read a file":                  `open('/etc/passwd').read()`,
	"read the project":             `open(PROJECT).read()`,
	"read processes":               `open('/proc/1/cmdline').read()`,
	"list a folder":                `os.listdir('/etc')`,
	"list home":                    `os.listdir('/root')`,
	"write a file":                 `open('/tmp/cablaggio-was-here', 'w').write('a')`,
	"write where it is":            `open('x', 'w').write('a')`,
	"delete a file":                `os.unlink(SECRET)`,
	"change a mode":                `os.chmod(SECRET, 0o777)`,
	"change an owner":              `os.chown(SECRET, 0, 0)`,
	"change a time":                `os.utime(SECRET)`,
	"link a file":                  `os.link(SECRET, '/tmp/cablaggio-was-here')`,
	"a socket":                     `socket.socket()`,
	"a local socket":               `socket.socket(socket.AF_UNIX)`,
	"a pair of sockets":            `socket.socketpair()`,
	"fork":                         `os.fork()`,
	"vfork":                        `subprocess.run(['/bin/true'])`,
	"spawn":                        `os.posix_spawn('/bin/true', ['true'], {})`,
	"another program":              `os.execv('/bin/true', ['true'])`,
	"itself":                       `os.execv('/usr/bin/env', ['env'])`,
	"a program in memory":          `os.memfd_create('x')`,
	"signal the parent":            `os.kill(os.getppid(), 0)`,
	"signal itself":                `os.kill(os.getpid(), 0)`,
	"signal everybody":             `os.kill(-1, 0)`,
	"too much memory":              `bytearray(1 << 30)`,
	"another user":                 `os.setuid(1)`,
	"limits of others":             `resource.prlimit(os.getppid(), resource.RLIMIT_NOFILE)`,
	"trace the parent":             `syscall(101, 16, os.getppid(), 0, 0)`,
	"read memory of others":        `syscall(310, os.getppid(), 0, 0, 0, 0, 0)`,
	"ring":                         `syscall(425, 8, 0)`,
	"clone3":                       `syscall(435, 0, 0)`,
	"unshare":                      `syscall(272, 0x10000000)`,
	"mount":                        `syscall(165, 0, 0, 0, 0, 0)`,
	"the other numbering of calls": `syscall(0x40000000 + 39)`,
	"raise its limits":             `resource.setrlimit(resource.RLIMIT_AS, (-1, -1))`,
}

const prelude = `
import sys
sys.path += ['/usr/lib/python3/dist-packages']
import os, socket, subprocess, resource, ctypes
PROJECT, SECRET = %s
libc = ctypes.CDLL(None, use_errno=True)
def syscall(*a):
    if libc.syscall(*[ctypes.c_long(x) for x in a]) < 0: raise OSError(ctypes.get_errno())
`

func TestNothingThatMeansIllWorks(t *testing.T) {
	project, err := filepath.Abs("../../go.mod")
	require.NoError(t, err)
	secret := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(secret, []byte("secret"), 0o666))
	program := strings.Replace(prelude, "%s", strconv.Quote(project)+", "+strconv.Quote(secret), 1)
	names := []string{}
	for name, try := range attempts {
		names = append(names, name)
		program += "try:\n  " + try + "\n  print('worked: " + name + "')\nexcept (OSError, MemoryError, ValueError) as e:\n  print('refused')\n"
	}
	outside := func(program string) *exec.Cmd { return exec.Command("/usr/bin/python3", "-c", program) }
	t.Run("as whoever tests", func(t *testing.T) { refused(t, python(program), len(names)) })
	t.Run("one that can is let outside", func(t *testing.T) {
		out, err := outside(strings.Replace(prelude, "%s", "'',''", 1) + attempts["a socket"] + "\n" + attempts["list a folder"]).CombinedOutput()
		assert.NoError(t, err, "%s", out)
	})
}

func refused(t *testing.T, j sandbox.Job, n int) {
	r, err := j.Run(t.Context(), nil)
	require.NoError(t, err)
	require.Zero(t, r.Code, "%s", r.Err)
	assert.NotContains(t, string(r.Out), "worked")
	assert.Equal(t, n, strings.Count(string(r.Out), "refused"), "%s%s", r.Out, r.Err)
}

// TestAsAnOrdinaryUser runs the same in a process of an ordinary user.
func TestAsAnOrdinaryUser(t *testing.T) {
	if os.Getuid() != 0 {
		t.Skip("the tests are run as an ordinary user already")
	}
	self, err := os.Executable()
	require.NoError(t, err)
	// The test's own file may lie where nobody else may enter.
	copied := filepath.Join("/tmp", "cablaggio-sandbox-test-"+strconv.Itoa(os.Getpid()))
	data, err := os.ReadFile(self)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(copied, data, 0o755))
	defer os.Remove(copied)
	j, err := json.Marshal(python("import os\nprint(os.getuid())\ntry: os.fork()\nexcept OSError: print('refused')\ntry: open('/etc/passwd')\nexcept OSError: print('refused')"))
	require.NoError(t, err)
	cmd := exec.Command("setpriv", "--reuid", "65534", "--regid", "65534", "--clear-groups", "bash", "-c", `exec -a cablaggio-sandbox "$0" "$1"`, copied, string(j))
	out, err := cmd.CombinedOutput()
	require.NoError(t, err, "%s", out)
	assert.Equal(t, "65534\nrefused\nrefused\n", string(out))
}

func TestItEnds(t *testing.T) {
	j := python("while True: pass")
	j.CPU = time.Second
	r, err := j.Run(t.Context(), nil)
	require.NoError(t, err)
	assert.Equal(t, -1, r.Code, "the processor's time ends it: %s", r.Err)

	j = python("import time\ntime.sleep(100)")
	j.Wall = 300 * time.Millisecond
	_, err = j.Run(t.Context(), nil)
	assert.ErrorIs(t, err, sandbox.ErrSlow)

	ctx, cancel := context.WithCancel(t.Context())
	time.AfterFunc(300*time.Millisecond, cancel)
	_, err = python("import time\ntime.sleep(100)").Run(ctx, nil)
	assert.ErrorIs(t, err, context.Canceled)
}

func TestItWritesItsFolderAndNoLargeFile(t *testing.T) {
	j := python("open('a', 'w').write('hello')\ntry:\n  f = open('b', 'wb')\n  for i in range(100): f.write(bytes(100000))\nexcept OSError as e: print(e.errno)")
	j.Dir = t.TempDir()
	r, err := j.Run(t.Context(), nil)
	require.NoError(t, err)
	written, err := os.ReadFile(filepath.Join(j.Dir, "a"))
	require.NoError(t, err)
	assert.Equal(t, "hello", string(written))
	info, err := os.Stat(filepath.Join(j.Dir, "b"))
	require.NoError(t, err)
	assert.LessOrEqual(t, info.Size(), int64(j.File))
	_ = r
}

func TestAProgramThatIsNotThere(t *testing.T) {
	j := python("")
	j.Program = "/usr/bin/not-there"
	_, err := j.Run(t.Context(), nil)
	require.Error(t, err)
	assert.NotErrorIs(t, err, sandbox.ErrUnavailable)
}
