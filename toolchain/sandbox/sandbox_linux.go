package sandbox

import (
	"debug/elf"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"syscall"
	"unsafe"

	"github.com/elastic/go-seccomp-bpf"
	"github.com/elastic/go-seccomp-bpf/arch"
	"github.com/landlock-lsm/go-landlock/landlock"
	ll "github.com/landlock-lsm/go-landlock/landlock/syscall"
	"golang.org/x/sys/unix"
)

func dieWithParent(cmd *exec.Cmd) {
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL}
	cmd.Cancel = func() error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }
}

// The program was started to shut itself in. This comes before main, so that whatever
// uses the package need not know.
func init() {
	if len(os.Args) != 2 || os.Args[0] != name {
		return
	}
	var j Job
	if err := json.Unmarshal([]byte(os.Args[1]), &j); err != nil {
		leave(exitNoProgram, err)
	}
	runtime.LockOSThread()
	if _, err := os.Stat(j.Program); err != nil {
		leave(exitNoProgram, err)
	}
	if err := j.limit(); err != nil {
		leave(exitUnavailable, err)
	}
	if err := j.shutIn(); err != nil {
		leave(exitUnavailable, err)
	}
	leave(exitNoProgram, fmt.Errorf("%s: %w", j.Program, j.become()))
}

// become becomes the job's program. The bound of the address space comes last of all: what
// the Go runtime has reserved may be more than it, so nothing may be allocated after.
func (j Job) become() error {
	path, err := syscall.BytePtrFromString(j.Program)
	if err != nil {
		return err
	}
	args, err := syscall.SlicePtrFromStrings(append([]string{j.Program}, j.Args...))
	if err != nil {
		return err
	}
	env, err := syscall.SlicePtrFromStrings(os.Environ())
	if err != nil {
		return err
	}
	most := unix.Rlimit{Cur: j.Memory, Max: j.Memory}
	if _, _, no := syscall.RawSyscall6(unix.SYS_PRLIMIT64, 0, unix.RLIMIT_AS, uintptr(unsafe.Pointer(&most)), 0, 0, 0); no != 0 {
		return no
	}
	_, _, no := syscall.RawSyscall(unix.SYS_EXECVE, uintptr(unsafe.Pointer(path)), uintptr(unsafe.Pointer(&args[0])), uintptr(unsafe.Pointer(&env[0])))
	return no
}

func leave(code int, err error) {
	fmt.Fprintf(os.Stderr, "%s: %v\n", name, err)
	os.Exit(code)
}

// limit bounds what the job may use.
func (j Job) limit() error {
	seconds := uint64((j.CPU + 999_999_999) / 1_000_000_000)
	for _, l := range []struct {
		what int
		most uint64
	}{
		{unix.RLIMIT_CPU, seconds},
		{unix.RLIMIT_FSIZE, j.File},
		{unix.RLIMIT_NOFILE, 32},
		{unix.RLIMIT_CORE, 0},
		{unix.RLIMIT_MEMLOCK, 0},
		{unix.RLIMIT_MSGQUEUE, 0},
	} {
		if err := unix.Setrlimit(l.what, &unix.Rlimit{Cur: l.most, Max: l.most}); err != nil {
			return err
		}
	}
	return nil
}

// shutIn gives up everything that the job does not need. After it only execve of the job's
// program is left.
func (j Job) shutIn() error {
	const execute = landlock.AccessFSSet(ll.AccessFSExecute | ll.AccessFSReadFile)
	rules := []landlock.Rule{
		landlock.PathAccess(execute, runs(j.Program)...),
		landlock.RWFiles("/dev/null").IgnoreIfMissing(),
	}
	for _, path := range j.Read {
		rules = append(rules, reads(path).IgnoreIfMissing())
	}
	if j.Dir != "" {
		rules = append(rules, landlock.PathAccess(ll.AccessFSReadFile|ll.AccessFSReadDir|ll.AccessFSWriteFile|ll.AccessFSMakeReg|ll.AccessFSRemoveFile|ll.AccessFSTruncate, j.Dir))
	}
	// What the kernel does not know yet of the newest is left out, but files are of all of them.
	if abi, err := ll.LandlockGetABIVersion(); err != nil || abi < 1 {
		return ErrUnavailable
	}
	if err := landlock.V6.BestEffort().Restrict(rules...); err != nil {
		return err
	}
	return seccomp.LoadFilter(seccomp.Filter{NoNewPrivs: true, Flag: seccomp.FilterFlagTSync, Policy: policy()})
}

// runs are the files that must be executable for the program to run: it, and the loader
// that it names.
func runs(program string) []string {
	out := []string{program}
	f, err := elf.Open(program)
	if err != nil {
		return out
	}
	defer f.Close()
	for _, p := range f.Progs {
		if p.Type != elf.PT_INTERP {
			continue
		}
		text := make([]byte, p.Filesz)
		if _, err := p.ReadAt(text, 0); err == nil {
			if loader, err := filepath.EvalSymlinks(strings.TrimRight(string(text), "\x00")); err == nil {
				out = append(out, loader)
			}
		}
	}
	return out
}

// reads lets a file or a folder be read, and nothing in it be executed.
func reads(path string) landlock.FSRule {
	info, err := os.Stat(path)
	if err != nil || info.IsDir() {
		return landlock.PathAccess(ll.AccessFSReadFile|ll.AccessFSReadDir, path)
	}
	return landlock.PathAccess(ll.AccessFSReadFile, path)
}

// policy refuses what a compiler and an interpreter have no use for: sockets, processes of
// their own, signals, others' memory, what changes a file without writing it (of which
// Landlock knows nothing), and all administration of the system. Threads are let be.
func policy() seccomp.Policy {
	return seccomp.Policy{DefaultAction: seccomp.ActionAllow, Syscalls: []seccomp.SyscallGroup{
		// The C library then asks for clone, whose flags can be looked at.
		{Action: seccomp.ActionErrno | seccomp.Action(unix.ENOSYS), Names: []string{"clone3"}},
		{Action: seccomp.ActionErrno | seccomp.Action(unix.EPERM), NamesWithCondtions: []seccomp.NameWithConditions{
			{Name: "clone", Conditions: seccomp.ArgumentConditions{{Argument: 0, Operation: seccomp.BitsNotSet, Value: unix.CLONE_THREAD}}},
			{Name: "prlimit64", Conditions: seccomp.ArgumentConditions{{Argument: 0, Operation: seccomp.NotEqual, Value: 0}}},
		}},
		{Action: seccomp.ActionErrno | seccomp.Action(unix.EPERM), Names: known([]string{
			"fork", "vfork", "execveat", "memfd_create", "memfd_secret",
			"kill", "tkill", "tgkill", "rt_sigqueueinfo", "rt_tgsigqueueinfo", "pidfd_open", "pidfd_getfd", "pidfd_send_signal",
			"socket", "socketpair", "connect", "bind", "listen", "accept", "accept4", "sendto", "sendmsg", "sendmmsg", "recvfrom", "recvmsg", "recvmmsg",
			"ptrace", "process_vm_readv", "process_vm_writev", "process_madvise", "kcmp", "userfaultfd", "perf_event_open", "bpf",
			"io_uring_setup", "io_uring_enter", "io_uring_register", "keyctl", "add_key", "request_key",
			"chmod", "fchmod", "fchmodat", "fchmodat2", "chown", "fchown", "lchown", "fchownat", "utime", "utimes", "utimensat", "futimesat",
			"setxattr", "lsetxattr", "fsetxattr", "setxattrat", "removexattr", "lremovexattr", "fremovexattr", "removexattrat",
			"mknod", "mknodat", "mount", "umount2", "move_mount", "open_tree", "fsopen", "fsconfig", "fsmount", "fspick", "mount_setattr",
			"chroot", "pivot_root", "unshare", "setns", "swapon", "swapoff", "acct", "quotactl", "quotactl_fd", "sync", "syncfs",
			"reboot", "kexec_load", "kexec_file_load", "init_module", "finit_module", "delete_module", "syslog",
			"sethostname", "setdomainname", "settimeofday", "clock_settime", "clock_adjtime", "adjtimex", "iopl", "ioperm", "vhangup",
			"setpriority", "ioprio_set", "sched_setscheduler", "sched_setparam", "sched_setattr", "sched_setaffinity",
			"shmget", "shmat", "shmctl", "msgget", "msgsnd", "msgctl", "semget", "semop", "semctl", "mq_open", "mq_unlink",
			"inotify_init", "inotify_init1", "fanotify_init", "name_to_handle_at", "open_by_handle_at", "nfsservctl", "lookup_dcookie",
			"setuid", "setgid", "setreuid", "setregid", "setresuid", "setresgid", "setgroups", "setfsuid", "setfsgid", "capset",
			"setsid", "setpgid", "personality", "modify_ldt",
		})},
	}}
}

// known leaves out the names of calls that this kind of processor never had.
func known(names []string) []string {
	here, err := arch.GetInfo("")
	if err != nil {
		return names // loading the filter will say so
	}
	return slices.DeleteFunc(names, func(name string) bool { _, ok := here.SyscallNames[name]; return !ok })
}
