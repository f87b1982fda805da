package guard

import (
	"os"
	"strconv"
	"strings"
	"syscall"
)

// Memory is how many bytes the system, or the group that it runs in, lets this process use;
// zero where nothing is set.
func Memory() int64 {
	least := int64(0)
	see := func(n int64) {
		if n > 0 && (least == 0 || n < least) {
			least = n
		}
	}
	var limit syscall.Rlimit
	if err := syscall.Getrlimit(syscall.RLIMIT_AS, &limit); err == nil && limit.Cur < 1<<60 {
		see(int64(limit.Cur))
	}
	for _, path := range []string{"/sys/fs/cgroup/memory.max", "/sys/fs/cgroup/memory/memory.limit_in_bytes"} {
		b, err := os.ReadFile(path)
		if err != nil {
			continue
		}
		if n, err := strconv.ParseInt(strings.TrimSpace(string(b)), 10, 64); err == nil && n < 1<<60 { // "max" is none
			see(n)
		}
	}
	return least
}

// perByte is how much memory reading a file takes at most, for each byte of it.
const perByte = 16

// Fits gives how many bytes may be sent at once where this much memory may be used; zero
// memory is no limit.
func Fits(upload int, memory int64) int {
	if memory > 0 && int64(upload) > memory/perByte {
		return int(memory / perByte)
	}
	return upload
}
