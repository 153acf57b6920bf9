#include "exchange/in/child/lockdown.h"
#include <cerrno>
#include <cstddef>
#include <fcntl.h>
#include <linux/audit.h>
#include <linux/filter.h>
#include <linux/seccomp.h>
#include <sched.h>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <unistd.h>
#include <vector>

namespace vicinal::here {
namespace {

#if defined(__x86_64__)
constexpr unsigned kProcessor = AUDIT_ARCH_X86_64;
#elif defined(__aarch64__)
constexpr unsigned kProcessor = AUDIT_ARCH_AARCH64;
#else
constexpr unsigned kProcessor = 0;
#endif

/// The filter's program, a call after the other.
class Filter {
public:
    Filter() {
        add(BPF_LD | BPF_W | BPF_ABS, offsetof(seccomp_data, arch));
        jump(BPF_JEQ, kProcessor, 1, 0);
        give(SECCOMP_RET_KILL_PROCESS);
        number();
#if defined(__x86_64__)
        jump(BPF_JGE, 0x40000000, 0, 1); // calls of the other word length
        give(SECCOMP_RET_KILL_PROCESS);
#endif
    }
    void refuse(long call, int error = EPERM) {
        jump(BPF_JEQ, unsigned(call), 0, 1);
        give(SECCOMP_RET_ERRNO | unsigned(error));
    }
    /// Only where none (or, with `wanted`, all) of these bits are set in an argument.
    void refuseWithout(long call, int argument, unsigned bits, bool wanted) {
        jump(BPF_JEQ, unsigned(call), 0, 4);
        add(BPF_LD | BPF_W | BPF_ABS, unsigned(offsetof(seccomp_data, args)) + 8 * unsigned(argument));
        jump(BPF_JSET, bits, wanted ? 1 : 0, wanted ? 0 : 1);
        give(SECCOMP_RET_ERRNO | EPERM);
        number();
    }
    bool install() {
        give(SECCOMP_RET_ALLOW);
        sock_fprog program{static_cast<unsigned short>(m_code.size()), m_code.data()};
        return prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) == 0 &&
               syscall(SYS_seccomp, SECCOMP_SET_MODE_FILTER, SECCOMP_FILTER_FLAG_TSYNC, &program) == 0;
    }

private:
    void add(unsigned code, unsigned value) {
        m_code.push_back(sock_filter{static_cast<unsigned short>(code), 0, 0, value});
    }
    void jump(unsigned how, unsigned value, unsigned yes, unsigned no) {
        m_code.push_back(sock_filter{static_cast<unsigned short>(BPF_JMP | how | BPF_K),
                                     static_cast<unsigned char>(yes), static_cast<unsigned char>(no), value});
    }
    void give(unsigned what) { add(BPF_RET | BPF_K, what); }
    void number() { add(BPF_LD | BPF_W | BPF_ABS, offsetof(seccomp_data, nr)); }
    std::vector<sock_filter> m_code;
};

} // namespace

bool lockDown(MayOpen open) {
    if (kProcessor == 0) return false;
    Filter filter;
    for (const long call : {
             SYS_socket, SYS_socketpair, SYS_connect, SYS_bind, SYS_listen, SYS_accept4, SYS_sendto, SYS_execve,
                 SYS_execveat, SYS_ptrace, SYS_process_vm_readv, SYS_process_vm_writev, SYS_kill, SYS_tkill,
                 SYS_unlinkat, SYS_renameat, SYS_renameat2, SYS_mkdirat, SYS_linkat, SYS_symlinkat, SYS_mknodat,
                 SYS_fchmodat, SYS_fchownat, SYS_truncate, SYS_mount, SYS_umount2, SYS_chroot, SYS_setns, SYS_unshare,
                 SYS_bpf, SYS_io_uring_setup, SYS_openat2, SYS_open_by_handle_at, SYS_memfd_create,
#if defined(__x86_64__)
                 SYS_fork, SYS_vfork, SYS_creat, SYS_unlink, SYS_rename, SYS_mkdir, SYS_rmdir, SYS_link, SYS_symlink,
                 SYS_mknod, SYS_chmod, SYS_chown, SYS_lchown,
#endif
         })
        filter.refuse(call);
    filter.refuse(SYS_clone3, ENOSYS); // its arguments cannot be seen: the C library falls back to clone
    filter.refuseWithout(SYS_clone, 0, CLONE_THREAD, true);
    constexpr unsigned writes = O_WRONLY | O_RDWR | O_CREAT | O_TRUNC;
    if (open == MayOpen::Nothing) {
        filter.refuse(SYS_openat);
#if defined(__x86_64__)
        filter.refuse(SYS_open);
#endif
    } else {
        filter.refuseWithout(SYS_openat, 2, writes, false);
#if defined(__x86_64__)
        filter.refuseWithout(SYS_open, 1, writes, false);
#endif
    }
    return filter.install();
}

} // namespace vicinal::here
