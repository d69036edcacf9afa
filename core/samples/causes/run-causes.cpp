// Runs each cause in a process of its own and prints where it was when a signal came, as Android's tombstones write it.
#include <csignal>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <initializer_list>
#include <sys/wait.h>
#include <unistd.h>
#include <unwind.h>

#include "causes.h"

extern char __executable_start;

namespace {

int mostFrames = 256;

struct Walk {
  int count = 0;
  bool inHandler = true;
};

_Unwind_Reason_Code step(_Unwind_Context *context, void *data) {
  auto *walk = static_cast<Walk *>(data);
  int before = 0;
  uintptr_t pc = _Unwind_GetIPInfo(context, &before);
  if (walk->inHandler) {
    // The frame that the signal interrupted is the first whose address is exact.
    if (!before) return _URC_NO_REASON;
    walk->inHandler = false;
  }
  const auto base = reinterpret_cast<uintptr_t>(&__executable_start);
  const bool ours = pc >= base && pc < base + 0x100000;
  if (!before) pc -= 1;
  if (ours)
    printf("    #%02d pc %016lx  /data/app/com.larkfield.causes/lib/x86_64/libcauses.so (BuildId: %s)\n", walk->count, pc - base, BUILD_ID);
  else
    printf("    #%02d pc %016lx  /apex/com.android.runtime/lib64/bionic/libc.so\n", walk->count, pc & 0xfffff);
  return ++walk->count < mostFrames ? _URC_NO_REASON : _URC_END_OF_STACK;
}

const char *wordsOf(int number) {
  switch (number) {
    case SIGSEGV: return "11 (SIGSEGV), code 1 (SEGV_MAPERR)";
    case SIGABRT: return "6 (SIGABRT), code -6 (SI_TKILL)";
    case SIGFPE: return "8 (SIGFPE), code 1 (FPE_INTDIV)";
    case SIGILL: return "4 (SIGILL), code 2 (ILL_ILLOPN)";
    default: return "5 (SIGTRAP), code 1 (TRAP_BRKPT)";
  }
}

void onSignal(int number, siginfo_t *, void *) {
  printf("*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***\n");
  printf("Build fingerprint: 'larkfield/demo/demo:14/A/1:user/release-keys'\nABI: 'x86_64'\n");
  printf("pid: 1, tid: 1, name: causes  >>> com.larkfield.causes <<<\n");
  printf("signal %s, fault addr 0x0\n\nbacktrace:\n", wordsOf(number));
  Walk walk;
  _Unwind_Backtrace(step, &walk);
  fflush(stdout);
  _exit(0);
}

}  // namespace

int main(int count, char **arguments) {
  if (count > 1) mostFrames = atoi(arguments[1]);
  for (const Cause *cause = causes; cause->name; cause++) {
    printf("cause %s\n", cause->name);
    fflush(stdout);
    if (fork() == 0) {
      alarm(3);
      static char stack[1 << 20];
      stack_t other = {};
      other.ss_sp = stack;
      other.ss_size = sizeof stack;
      sigaltstack(&other, nullptr);
      struct sigaction action = {};
      action.sa_sigaction = onSignal;
      action.sa_flags = SA_SIGINFO | SA_ONSTACK;
      for (int number : {SIGSEGV, SIGABRT, SIGFPE, SIGILL, SIGTRAP}) sigaction(number, &action, nullptr);
      cause->run();
      _exit(0);
    }
    wait(nullptr);
    printf("end\n");
  }
}
