/* See ember_native.h. Everything between "while a crash is handled" and its end is async-signal-safe (POSIX 2017, section 2.4.3). */
#define _FILE_OFFSET_BITS 64
#ifndef _GNU_SOURCE
#define _GNU_SOURCE
#endif
#include "ember_native.h"

#include <dirent.h>
#include <elf.h>
#include <errno.h>
#include <fcntl.h>
#include <link.h>
#include <pthread.h>
#include <signal.h>
#include <stdatomic.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <string.h>
#include <sys/file.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/uio.h>
#include <time.h>
#include <ucontext.h>
#include <unistd.h>
#include <unwind.h>

enum {
  most_values = 64,
  most_events = 64,
  most_frames = 200,
  most_threads = 128,
  most_images = 512,
  room_bytes = 256 * 1024,
  alternate_stack_bytes = 128 * 1024,
  patience_seconds = 5,
  thread_patience_ms = 200,
};

static const int watched[] = {SIGSEGV, SIGBUS, SIGILL, SIGFPE, SIGABRT, SIGTRAP, SIGSYS};
enum { watched_count = sizeof watched / sizeof watched[0] };

/* A text that a handler may find half written: odd while it is. */
struct text {
  atomic_uint turn;
  char name[48];
  char value[512];
};

static struct text values[most_values];
static struct text events[most_events];
static atomic_uint next_event;
static struct text thrown;
static pthread_mutex_t writing = PTHREAD_MUTEX_INITIALIZER;

static struct sigaction before[watched_count];
static struct sigaction before_thread_signal;
static struct sigaction before_alarm;
static char prepared_path[512];
static char folder_path[400];
static int prepared_fd = -1;
static int probe[2] = {-1, -1};
static int thread_signal;
static char version_text[104], build_text[104];
static char crash_id[37];

/* ---- small things that the C library has, but not for handlers ---- */

static void copy_text(char *to, size_t room, const char *from) {
  size_t length = from ? strlen(from) : 0;
  if (length >= room) {
    length = room - 1;
    /* Not within a letter of several bytes. */
    while (length > 0 && ((unsigned char)from[length] & 0xC0) == 0x80) length--;
  }
  memcpy(to, from ? from : "", length);
  to[length] = 0;
}

struct writer {
  int fd;
  size_t used;
  size_t written;
  char buffer[1024];
};

static void flush(struct writer *out) {
  size_t at = 0;
  while (at < out->used) {
    ssize_t done = write(out->fd, out->buffer + at, out->used - at);
    if (done > 0) at += (size_t)done;
    else if (done < 0 && errno == EINTR) continue;
    else break;
  }
  out->written += at;
  out->used = 0;
}

static void put_byte(struct writer *out, char byte) {
  if (out->used == sizeof out->buffer) flush(out);
  out->buffer[out->used++] = byte;
}

static void put(struct writer *out, const char *text) {
  for (; *text; text++) put_byte(out, *text);
}

/* One word or one line: what would end it is written as %XX. */
static void put_escaped(struct writer *out, const char *text, bool is_word) {
  for (const char *at = text; *at; at++) {
    unsigned char byte = (unsigned char)*at;
    if (byte < 0x20 || byte == 0x7F || byte == '%' || (is_word && byte == ' ')) {
      put_byte(out, '%');
      put_byte(out, "0123456789ABCDEF"[byte >> 4]);
      put_byte(out, "0123456789ABCDEF"[byte & 15]);
    } else put_byte(out, (char)byte);
  }
}

static void put_number(struct writer *out, uint64_t number, unsigned base) {
  char digits[24];
  int length = 0;
  do digits[length++] = "0123456789abcdef"[number % base];
  while ((number /= base) > 0);
  if (base == 16) put(out, "0x");
  while (length > 0) put_byte(out, digits[--length]);
}

static void put_signed(struct writer *out, int number) {
  if (number < 0) put_byte(out, '-');
  put_number(out, number < 0 ? (uint64_t) - (int64_t)number : (uint64_t)number, 10);
}

static pid_t thread_id(void) { return (pid_t)syscall(SYS_gettid); }

/* Copies memory that may not be there; asks the kernel, which says no where a read would crash. */
static bool read_memory(uintptr_t from, void *to, size_t bytes) {
  if (from < 4096 || from + bytes < from) return false;
  struct iovec here = {to, bytes}, there = {(void *)from, bytes};
  ssize_t got = process_vm_readv(getpid(), &here, 1, &there, 1, 0);
  if (got >= 0) return (size_t)got == bytes;
  if (errno != EPERM && errno != ENOSYS) return false;
  /* Some systems forbid that call; a pipe refuses to take what cannot be read. */
  if (probe[1] < 0 || bytes > 512 || write(probe[1], (void *)from, bytes) != (ssize_t)bytes) {
    char rest[512];
    while (probe[0] >= 0 && read(probe[0], rest, sizeof rest) > 0) continue;
    return false;
  }
  return read(probe[0], to, bytes) == (ssize_t)bytes;
}

/* ---- what the app says beforehand ---- */

static void begin_text(struct text *text) { atomic_fetch_add(&text->turn, 1); }
static void end_text(struct text *text) { atomic_fetch_add(&text->turn, 1); }

/* A copy of a text, or false while somebody writes it: its writer may be the thread that crashed. */
static bool take_text(struct text *text, struct text *copy) {
  unsigned turn = atomic_load(&text->turn);
  if (turn % 2 == 1) return false;
  memcpy(copy->name, text->name, sizeof copy->name);
  memcpy(copy->value, text->value, sizeof copy->value);
  copy->name[sizeof copy->name - 1] = copy->value[sizeof copy->value - 1] = 0;
  return atomic_load(&text->turn) == turn && copy->name[0] != 0;
}

void ember_native_set(const char *name, const char *value) {
  if (!name || !*name || strlen(name) >= sizeof values[0].name) return;
  pthread_mutex_lock(&writing);
  struct text *slot = NULL;
  for (int at = 0; at < most_values; at++) {
    if (strcmp(values[at].name, name) == 0) slot = &values[at];
  }
  for (int at = 0; !slot && value && at < most_values; at++) {
    if (!values[at].name[0]) slot = &values[at];
  }
  if (slot) {
    begin_text(slot);
    copy_text(slot->name, sizeof slot->name, value ? name : "");
    copy_text(slot->value, 201, value);
    end_text(slot);
  }
  pthread_mutex_unlock(&writing);
}

void ember_native_trail(const char *event) {
  if (!event || !*event || strlen(event) > 500) return;
  pthread_mutex_lock(&writing);
  struct text *slot = &events[atomic_load(&next_event) % most_events];
  begin_text(slot);
  copy_text(slot->name, sizeof slot->name, "trail");
  copy_text(slot->value, sizeof slot->value, event);
  end_text(slot);
  atomic_fetch_add(&next_event, 1);
  pthread_mutex_unlock(&writing);
}

void ember_native_exception(const char *type, const char *message) {
  begin_text(&thrown);
  copy_text(thrown.name, sizeof thrown.name, type && *type ? type : "?");
  copy_text(thrown.value, sizeof thrown.value, message);
  end_text(&thrown);
}

/* ---- frames ---- */

struct machine {
  uintptr_t pc, sp, fp, lr;
};

#if defined(__x86_64__)
#define MACHINE "x86_64"
static struct machine machine_of(const ucontext_t *context) {
  const greg_t *registers = context->uc_mcontext.gregs;
  return (struct machine){(uintptr_t)registers[REG_RIP], (uintptr_t)registers[REG_RSP], (uintptr_t)registers[REG_RBP], 0};
}
static void set_machine(ucontext_t *context, struct machine machine) {
  context->uc_mcontext.gregs[REG_RIP] = (greg_t)machine.pc;
  context->uc_mcontext.gregs[REG_RSP] = (greg_t)machine.sp;
}
static void put_registers(struct writer *out, const ucontext_t *context) {
  static const struct { const char *name; int at; } names[] = {
      {"rax", REG_RAX}, {"rbx", REG_RBX}, {"rcx", REG_RCX}, {"rdx", REG_RDX}, {"rsi", REG_RSI}, {"rdi", REG_RDI},
      {"rbp", REG_RBP}, {"rsp", REG_RSP}, {"r8", REG_R8},   {"r9", REG_R9},   {"r10", REG_R10}, {"r11", REG_R11},
      {"r12", REG_R12}, {"r13", REG_R13}, {"r14", REG_R14}, {"r15", REG_R15}, {"rip", REG_RIP}};
  for (size_t at = 0; at < sizeof names / sizeof names[0]; at++) {
    put(out, "register ");
    put(out, names[at].name);
    put_byte(out, ' ');
    put_number(out, (uint64_t)context->uc_mcontext.gregs[names[at].at], 16);
    put_byte(out, '\n');
  }
}
#elif defined(__aarch64__)
#define MACHINE "arm64"
static struct machine machine_of(const ucontext_t *context) {
  const mcontext_t *machine = &context->uc_mcontext;
  return (struct machine){machine->pc, machine->sp, machine->regs[29], machine->regs[30]};
}
static void set_machine(ucontext_t *context, struct machine machine) {
  context->uc_mcontext.pc = machine.pc;
  context->uc_mcontext.sp = machine.sp;
}
static void put_registers(struct writer *out, const ucontext_t *context) {
  for (unsigned at = 0; at < 31; at++) {
    put(out, "register x");
    put_number(out, at, 10);
    put_byte(out, ' ');
    put_number(out, context->uc_mcontext.regs[at], 16);
    put_byte(out, '\n');
  }
  put(out, "register sp ");
  put_number(out, context->uc_mcontext.sp, 16);
  put(out, "\nregister pc ");
  put_number(out, context->uc_mcontext.pc, 16);
  put_byte(out, '\n');
}
#elif defined(__arm__)
#define MACHINE "arm"
static struct machine machine_of(const ucontext_t *context) {
  const mcontext_t *machine = &context->uc_mcontext;
  bool is_thumb = (machine->arm_cpsr & 0x20) != 0;
  return (struct machine){machine->arm_pc, machine->arm_sp, is_thumb ? machine->arm_r7 : machine->arm_fp, machine->arm_lr};
}
static void set_machine(ucontext_t *context, struct machine machine) {
  context->uc_mcontext.arm_pc = machine.pc;
  context->uc_mcontext.arm_sp = machine.sp;
}
static void put_registers(struct writer *out, const ucontext_t *context) {
  static const char *const names[] = {"r0", "r1", "r2", "r3", "r4", "r5", "r6", "r7", "r8", "r9", "r10", "fp", "ip", "sp", "lr", "pc"};
  const unsigned long *registers = &context->uc_mcontext.arm_r0;
  for (size_t at = 0; at < 16; at++) {
    put(out, "register ");
    put(out, names[at]);
    put_byte(out, ' ');
    put_number(out, registers[at], 16);
    put_byte(out, '\n');
  }
}
#else
#error "This machine is not known here: x86-64, ARM64 and ARM are."
#endif

/* A return address as the linker counts it: ARM64 signs pointers in bits that no address has, ARM marks Thumb in the lowest. */
static uintptr_t plain_address(uintptr_t address) {
#if defined(__aarch64__)
  return address & 0x0000FFFFFFFFFFFFULL;
#elif defined(__arm__)
  return address & ~(uintptr_t)1;
#else
  return address;
#endif
}

struct frames {
  uintptr_t at[most_frames];
  int count;
  /* Deeper ones that found no room. */
  unsigned beyond;
};

static void add_frame(struct frames *frames, uintptr_t address) {
  if (frames->count < most_frames) frames->at[frames->count++] = plain_address(address);
  else frames->beyond++;
}

static bool is_code(uintptr_t address) {
  char byte;
  return read_memory(plain_address(address), &byte, 1);
}

/* The machine as it was before a call to where no code is: the return address lies on the stack, or in the register for it. */
static struct machine before_call(struct machine machine) {
#if defined(__x86_64__)
  if (!read_memory(machine.sp, &machine.pc, sizeof machine.pc)) machine.pc = 0;
  machine.sp += sizeof machine.pc;
#else
  machine.pc = machine.lr;
#endif
  return machine;
}

/* By frame pointers: each record is the caller's frame pointer, then the address to return to. */
static void follow_frame_pointers(struct machine machine, struct frames *frames) {
  frames->count = 0;
  frames->beyond = 0;
  add_frame(frames, machine.pc);
  if (!is_code(machine.pc)) {
    uintptr_t back = before_call(machine).pc;
    if (back) add_frame(frames, back);
  }
  uintptr_t fp = machine.fp;
  for (int depth = 0; depth < 100000 && fp % sizeof fp == 0; depth++) {
    uintptr_t record[2];
    if (!read_memory(fp, record, sizeof record) || !record[1] || !is_code(record[1])) break;
    if (!(depth == 0 && frames->count > 1 && frames->at[1] == plain_address(record[1]))) add_frame(frames, record[1]);
    /* Stacks grow down, so callers lie higher; a step of megabytes is none. */
    if (record[0] <= fp || record[0] - fp > (64u << 20)) break;
    fp = record[0];
  }
}

struct unwinding {
  struct frames *frames;
  /* Frames before this address are those of the handler; where it is `caller`, so many are of this file. */
  uintptr_t from;
  int skip;
  bool begun;
};

static const uintptr_t caller = 0;

static _Unwind_Reason_Code unwound(struct _Unwind_Context *context, void *with) {
  struct unwinding *state = with;
  uintptr_t address = (uintptr_t)_Unwind_GetIP(context);
  if (!address) return _URC_END_OF_STACK;
  if (!state->begun) state->begun = state->from != caller ? plain_address(address) == plain_address(state->from) : state->skip-- <= 0;
  if (state->begun) add_frame(state->frames, address);
  return state->frames->beyond > 100000 ? _URC_END_OF_STACK : _URC_NO_REASON;
}

/* By the compiler runtime's unwinder, which knows code without frame pointers too; it cannot begin where there is no code. */
static bool unwind(struct frames *frames, uintptr_t from, int skip) {
  struct unwinding state = {frames, from, skip, false};
  frames->count = 0;
  frames->beyond = 0;
  _Unwind_Backtrace(unwound, &state);
  return state.begun && frames->count > 1;
}

/* The stack of a crash. Where it called to nowhere, the unwinder is shown the machine as it was before. */
static bool unwind_crash(struct frames *frames, ucontext_t *context) {
  struct machine machine = machine_of(context);
  if (is_code(machine.pc)) return unwind(frames, machine.pc, 0);
  struct machine called = before_call(machine);
  if (!is_code(called.pc)) return false;
  set_machine(context, called);
  bool is_told = unwind(frames, called.pc, 0);
  set_machine(context, machine);
  if (frames->count == most_frames) frames->count--;
  memmove(frames->at + 1, frames->at, (size_t)frames->count++ * sizeof frames->at[0]);
  frames->at[0] = machine.pc;
  return is_told;
}

static void put_frames(struct writer *out, const char *word, const struct frames *frames) {
  for (int at = 0; at < frames->count; at++) {
    put(out, word);
    put_byte(out, ' ');
    put_number(out, frames->at[at], 16);
    put_byte(out, '\n');
  }
  if (frames->beyond > 0) {
    put(out, "beyond ");
    put_number(out, frames->beyond, 10);
    put_byte(out, '\n');
  }
}

/* ---- images ---- */

struct image {
  uintptr_t start, end, bias;
  uint64_t offset;
  bool is_code;
  int id_bytes;
  unsigned char id[64];
  char path[256];
};

/* Build id and load bias of the ELF file that lies at an address (System V gABI chapter 5; the note is that of GNU). */
static bool read_image(struct image *image) {
  ElfW(Ehdr) head;
  if (!read_memory(image->start, &head, sizeof head) || memcmp(head.e_ident, ELFMAG, SELFMAG) != 0) return false;
  image->bias = image->start;
  image->id_bytes = 0;
  bool has_bias = false;
  for (unsigned at = 0; at < head.e_phnum && at < 64; at++) {
    ElfW(Phdr) part;
    if (!read_memory(image->start + head.e_phoff + at * sizeof part, &part, sizeof part)) break;
    if (part.p_type == PT_LOAD && !has_bias) {
      image->bias = image->start - (part.p_vaddr - part.p_offset);
      has_bias = true;
    }
    if (part.p_type != PT_NOTE) continue;
    uintptr_t note = image->start + part.p_offset, end = note + part.p_filesz;
    while (note + sizeof(ElfW(Nhdr)) < end && image->id_bytes == 0) {
      ElfW(Nhdr) header;
      char owner[4];
      if (!read_memory(note, &header, sizeof header) || header.n_namesz > 4096 || header.n_descsz > (1u << 20)) break;
      uintptr_t name = note + sizeof header, id = name + ((header.n_namesz + 3u) & ~3u);
      if (header.n_type == NT_GNU_BUILD_ID && header.n_namesz == 4 && header.n_descsz <= sizeof image->id &&
          read_memory(name, owner, 4) && memcmp(owner, "GNU", 4) == 0 && read_memory(id, image->id, header.n_descsz))
        image->id_bytes = (int)header.n_descsz;
      note = id + ((header.n_descsz + 3u) & ~3u);
    }
  }
  return true;
}

static void put_image(struct writer *out, const struct image *image) {
  put(out, "image ");
  put_number(out, image->start, 16);
  put_byte(out, ' ');
  put_number(out, image->end, 16);
  put_byte(out, ' ');
  put_number(out, image->bias, 16);
  put_byte(out, ' ');
  put_number(out, image->offset, 16);
  put_byte(out, ' ');
  if (image->id_bytes == 0) put_byte(out, '-');
  for (int at = 0; at < image->id_bytes; at++) {
    put_byte(out, "0123456789abcdef"[image->id[at] >> 4]);
    put_byte(out, "0123456789abcdef"[image->id[at] & 15]);
  }
  put_byte(out, ' ');
  put_escaped(out, image->path, false);
  put_byte(out, '\n');
}

struct maps {
  struct writer *out;
  struct image image;
  bool has_image;
  int images;
};

static uint64_t take_hexadecimal(const char **text) {
  uint64_t number = 0;
  for (;; (*text)++) {
    char digit = **text;
    if (digit >= '0' && digit <= '9') number = number * 16 + (uint64_t)(digit - '0');
    else if (digit >= 'a' && digit <= 'f') number = number * 16 + (uint64_t)(digit - 'a' + 10);
    else return number;
  }
}

static void end_image(struct maps *maps) {
  if (maps->has_image && maps->image.is_code && maps->images++ < most_images) put_image(maps->out, &maps->image);
  maps->has_image = false;
}

/* One line of /proc/self/maps: start-end rwxp offset device inode path. */
static void take_mapping(struct maps *maps, const char *line) {
  uintptr_t start = (uintptr_t)take_hexadecimal(&line);
  if (*line++ != '-') return;
  uintptr_t end = (uintptr_t)take_hexadecimal(&line);
  if (*line != ' ' || strlen(line) < 6) return;
  bool is_readable = line[1] == 'r', is_code = line[3] == 'x';
  line += 6;
  uint64_t offset = take_hexadecimal(&line);
  for (int words = 0; words < 2; words++) {
    while (*line == ' ') line++;
    while (*line && *line != ' ') line++;
  }
  while (*line == ' ') line++;
  struct image next = {.start = start, .end = end, .offset = offset};
  if (is_readable && *line && read_image(&next)) {
    end_image(maps);
    copy_text(next.path, sizeof next.path, line);
    maps->image = next;
    maps->has_image = true;
  }
  if (!maps->has_image || strncmp(maps->image.path, line, sizeof maps->image.path - 1) != 0) return;
  maps->image.end = end;
  maps->image.is_code |= is_code;
}

static void put_images(struct writer *out) {
  int fd = open("/proc/self/maps", O_RDONLY | O_CLOEXEC);
  if (fd < 0) return;
  struct maps maps = {.out = out};
  char chunk[512], line[512];
  size_t length = 0;
  for (;;) {
    ssize_t got = read(fd, chunk, sizeof chunk);
    if (got < 0 && errno == EINTR) continue;
    if (got <= 0) break;
    for (ssize_t at = 0; at < got; at++) {
      if (chunk[at] != '\n') {
        if (length < sizeof line - 1) line[length++] = chunk[at];
        continue;
      }
      line[length] = 0;
      length = 0;
      take_mapping(&maps, line);
    }
  }
  end_image(&maps);
  close(fd);
}

/* ---- the other threads ---- */

static struct {
  _Atomic pid_t wanted;
  atomic_bool is_done;
  struct frames pointers, unwound;
  bool has_unwound;
} asked;

/* Runs in the thread that is asked: it alone can tell where it is. */
static void on_thread_signal(int signal, siginfo_t *info, void *context) {
  (void)signal;
  (void)info;
  int error = errno;
  pid_t self = thread_id();
  if (atomic_load(&asked.wanted) != self) return;
  struct machine machine = machine_of(context);
  follow_frame_pointers(machine, &asked.pointers);
  asked.has_unwound = is_code(machine.pc) && unwind(&asked.unwound, machine.pc, 0);
  pid_t expected = self;
  if (atomic_compare_exchange_strong(&asked.wanted, &expected, -self)) atomic_store(&asked.is_done, true);
  errno = error;
}

static void put_thread(struct writer *out, pid_t thread, bool is_crashed) {
  char path[64] = "/proc/self/task/", name[64] = "";
  char digits[16];
  int length = 0;
  for (pid_t number = thread; number > 0; number /= 10) digits[length++] = (char)('0' + number % 10);
  size_t at = strlen(path);
  while (length > 0) path[at++] = digits[--length];
  memcpy(path + at, "/comm", 6);
  int fd = open(path, O_RDONLY | O_CLOEXEC);
  ssize_t got = fd < 0 ? 0 : read(fd, name, sizeof name - 1);
  if (fd >= 0) close(fd);
  if (got > 0 && name[got - 1] == '\n') name[got - 1] = 0;
  put(out, is_crashed ? "crashed " : "thread ");
  put_number(out, (uint64_t)thread, 10);
  put_byte(out, ' ');
  put_escaped(out, name, false);
  put_byte(out, '\n');
}

static void ask_thread(struct writer *out, pid_t thread) {
  atomic_store(&asked.is_done, false);
  atomic_store(&asked.wanted, thread);
  if (syscall(SYS_tgkill, getpid(), thread, thread_signal) != 0) return;
  for (int waited = 0; waited < thread_patience_ms && !atomic_load(&asked.is_done); waited++) {
    struct timespec pause = {0, 1000000};
    nanosleep(&pause, NULL);
  }
  put_thread(out, thread, false);
  pid_t expected = thread;
  /* One that answers too late finds that nobody asks any more. */
  if (atomic_compare_exchange_strong(&asked.wanted, &expected, 0)) put(out, "unanswered\n");
  else put_frames(out, "frame", asked.has_unwound ? &asked.unwound : &asked.pointers);
}

struct linux_dirent64 {
  uint64_t number;
  int64_t offset;
  unsigned short bytes;
  unsigned char type;
  char name[];
};

static void put_other_threads(struct writer *out, pid_t self) {
  int fd = open("/proc/self/task", O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (fd < 0) return;
  _Alignas(struct linux_dirent64) char entries[2048];
  int told = 0;
  for (;;) {
    long got = syscall(SYS_getdents64, fd, entries, sizeof entries);
    if (got <= 0) break;
    for (long at = 0; at < got && told < most_threads;) {
      struct linux_dirent64 *entry = (struct linux_dirent64 *)(entries + at);
      at += entry->bytes;
      pid_t thread = 0;
      for (const char *digit = entry->name; *digit >= '0' && *digit <= '9'; digit++) thread = thread * 10 + (*digit - '0');
      if (thread <= 0 || thread == self) continue;
      ask_thread(out, thread);
      told++;
    }
  }
  close(fd);
}

/* ---- while a crash is handled ---- */

static _Atomic pid_t crashing;
static struct writer crash_out;
static struct frames crash_frames;
static volatile sig_atomic_t crash_signal;

static const char *name_of_signal(int signal) {
  switch (signal) {
    case SIGSEGV: return "SIGSEGV";
    case SIGBUS: return "SIGBUS";
    case SIGILL: return "SIGILL";
    case SIGFPE: return "SIGFPE";
    case SIGABRT: return "SIGABRT";
    case SIGTRAP: return "SIGTRAP";
    case SIGSYS: return "SIGSYS";
    default: return "signal";
  }
}

static const char *name_of_code(int signal, int code) {
  if (code == SI_USER) return "SI_USER";
  if (code == SI_TKILL) return "SI_TKILL";
  if (code == SI_QUEUE) return "SI_QUEUE";
  if (signal == SIGSEGV && code == SEGV_MAPERR) return "SEGV_MAPERR";
  if (signal == SIGSEGV && code == SEGV_ACCERR) return "SEGV_ACCERR";
  if (signal == SIGBUS && code == BUS_ADRALN) return "BUS_ADRALN";
  if (signal == SIGBUS && code == BUS_ADRERR) return "BUS_ADRERR";
  if (signal == SIGFPE && code == FPE_INTDIV) return "FPE_INTDIV";
  if (signal == SIGILL && code == ILL_ILLOPC) return "ILL_ILLOPC";
  if (signal == SIGILL && code == ILL_ILLOPN) return "ILL_ILLOPN";
  return "-";
}

static void put_line(struct writer *out, const char *word, const char *text) {
  if (!*text) return;
  put(out, word);
  put_byte(out, ' ');
  put_escaped(out, text, false);
  put_byte(out, '\n');
}

static void put_head(struct writer *out, const char *kind, const char *id) {
  struct timespec now;
  clock_gettime(CLOCK_REALTIME, &now);
  put(out, "ember-crash 1\nid ");
  put(out, id);
  put(out, "\nkind ");
  put(out, kind);
  put(out, "\ntime ");
  put_number(out, (uint64_t)now.tv_sec * 1000 + (uint64_t)now.tv_nsec / 1000000, 10);
  put(out, "\nmachine " MACHINE "\nprocess ");
  put_number(out, (uint64_t)getpid(), 10);
  put_byte(out, '\n');
  put_line(out, "version", version_text);
  put_line(out, "build", build_text);
  for (int at = 0; at < most_values; at++) {
    struct text copy;
    if (!take_text(&values[at], &copy)) continue;
    put(out, "value ");
    put_escaped(out, copy.name, true);
    put_byte(out, ' ');
    put_escaped(out, copy.value, false);
    put_byte(out, '\n');
  }
}

static void put_exception(struct writer *out, const char *type, const char *message) {
  put(out, "exception ");
  put_escaped(out, type, true);
  put_byte(out, ' ');
  put_escaped(out, message, false);
  put_byte(out, '\n');
}

static void put_trail(struct writer *out) {
  unsigned next = atomic_load(&next_event);
  for (unsigned back = most_events; back > 0; back--) {
    struct text copy;
    if (next >= back && take_text(&events[(next - back) % most_events], &copy)) put_line(out, "trail", copy.value);
  }
}

/* Gives back what was there before, cuts the file to what is written, and lets the next handler have its turn. */
static void finish_crash(void) {
  put(&crash_out, "end\n");
  flush(&crash_out);
  if (ftruncate(prepared_fd, (off_t)crash_out.written) != 0) errno = 0;
  alarm(0);
  sigaction(SIGALRM, &before_alarm, NULL);
  for (int at = 0; at < watched_count; at++) sigaction(watched[at], &before[at], NULL);
}

/* Telling took too long, as where a lock is held for good: what is written so far has to do. */
static void on_patience(int signal) {
  (void)signal;
  finish_crash();
  syscall(SYS_tgkill, getpid(), thread_id(), (int)crash_signal);
}

static void tell_crash(int signal, const siginfo_t *info, ucontext_t *context) {
  struct writer *out = &crash_out;
  out->fd = prepared_fd;
  put_head(out, "crash", crash_id);
  put(out, "signal ");
  put_signed(out, signal);
  put_byte(out, ' ');
  put(out, name_of_signal(signal));
  put_byte(out, ' ');
  put_signed(out, info->si_code);
  put_byte(out, ' ');
  put(out, name_of_code(signal, info->si_code));
  put_byte(out, ' ');
  put_number(out, info->si_code > 0 ? (uint64_t)(uintptr_t)info->si_addr : 0, 16);
  put_byte(out, '\n');
  struct text copy;
  if (take_text(&thrown, &copy)) put_exception(out, copy.name, copy.value);
  put_thread(out, thread_id(), true);
  put_registers(out, context);
  follow_frame_pointers(machine_of(context), &crash_frames);
  put_frames(out, "pointer", &crash_frames);
  flush(out);
  put_images(out);
  put_trail(out);
  flush(out);
  /* What may fail comes last, when all else is written. */
  if (unwind_crash(&crash_frames, context)) put_frames(out, "unwound", &crash_frames);
  flush(out);
  put_other_threads(out, thread_id());
}

static void on_crash(int signal, siginfo_t *info, void *context) {
  int error = errno;
  pid_t self = thread_id();
  pid_t nobody = 0;
  if (!atomic_compare_exchange_strong(&crashing, &nobody, self)) {
    if (nobody == self) put(&crash_out, "broken\n");
    else {
      /* Another thread crashed first, and ends the process soon. */
      struct timespec pause = {patience_seconds + 1, 0};
      nanosleep(&pause, NULL);
    }
  } else {
    crash_signal = signal;
    struct sigaction patience = {.sa_handler = on_patience, .sa_flags = SA_ONSTACK | SA_NODEFER};
    sigemptyset(&patience.sa_mask);
    sigaction(SIGALRM, &patience, &before_alarm);
    sigset_t alarm_alone;
    sigemptyset(&alarm_alone);
    sigaddset(&alarm_alone, SIGALRM);
    pthread_sigmask(SIG_UNBLOCK, &alarm_alone, NULL);
    alarm(patience_seconds);
    tell_crash(signal, info, context);
  }
  finish_crash();
  /* A fault comes again by itself when the handler returns; what was sent has to be sent again. */
  if (info->si_code <= 0 || signal == SIGTRAP || signal == SIGSYS) syscall(SYS_tgkill, getpid(), self, signal);
  errno = error;
}

/* ---- beforehand and afterwards ---- */

static bool make_id(char id[37]) {
  unsigned char bytes[16];
  int fd = open("/dev/urandom", O_RDONLY | O_CLOEXEC);
  bool is_made = fd >= 0 && read(fd, bytes, sizeof bytes) == sizeof bytes;
  if (fd >= 0) close(fd);
  if (!is_made) return false;
  /* RFC 9562 section 5.4. */
  bytes[6] = (unsigned char)((bytes[6] & 0x0F) | 0x40);
  bytes[8] = (unsigned char)((bytes[8] & 0x3F) | 0x80);
  char *to = id;
  for (int at = 0; at < 16; at++) {
    if (at == 4 || at == 6 || at == 8 || at == 10) *to++ = '-';
    *to++ = "0123456789abcdef"[bytes[at] >> 4];
    *to++ = "0123456789abcdef"[bytes[at] & 15];
  }
  *to = 0;
  return true;
}

/* A file that this process alone writes: the lock on it goes with the process, however that ends. */
static int open_file(char *path, size_t room, char id[37]) {
  if (!make_id(id)) return -1;
  snprintf(path, room, "%s/%d-%s.ember", folder_path, (int)getpid(), id);
  int fd = open(path, O_RDWR | O_CREAT | O_EXCL | O_CLOEXEC, 0600);
  if (fd >= 0 && flock(fd, LOCK_EX | LOCK_NB) != 0) errno = 0;
  return fd;
}

void ember_native_thread(void) {
  stack_t stack;
  if (sigaltstack(NULL, &stack) == 0 && !(stack.ss_flags & SS_DISABLE)) return;
  void *memory = mmap(NULL, alternate_stack_bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  if (memory == MAP_FAILED) return;
  stack = (stack_t){.ss_sp = memory, .ss_size = alternate_stack_bytes};
  sigaltstack(&stack, NULL);
}

/* A signal that nobody uses, for asking threads where they are. */
static void watch_threads(void) {
  struct sigaction ask = {.sa_sigaction = on_thread_signal, .sa_flags = SA_SIGINFO | SA_ONSTACK | SA_RESTART};
  sigfillset(&ask.sa_mask);
  for (int signal = SIGRTMAX - 5; signal > SIGRTMIN + 8; signal--) {
    if (sigaction(signal, NULL, &before_thread_signal) != 0 || before_thread_signal.sa_handler != SIG_DFL) continue;
    if (sigaction(signal, &ask, NULL) == 0) thread_signal = signal;
    return;
  }
}

int ember_native_start(const char *folder, const char *version, const char *build) {
  if (prepared_fd >= 0) return 0;
  if (!folder || strlen(folder) >= sizeof folder_path) return ENAMETOOLONG;
  copy_text(folder_path, sizeof folder_path, folder);
  copy_text(version_text, sizeof version_text, version);
  copy_text(build_text, sizeof build_text, build);
  if (mkdir(folder, 0700) != 0 && errno != EEXIST) return errno;
  prepared_fd = open_file(prepared_path, sizeof prepared_path, crash_id);
  if (prepared_fd < 0) return errno ? errno : EIO;
  /* Without room it is tried all the same. */
  if (posix_fallocate(prepared_fd, 0, room_bytes) != 0) errno = 0;
  if (pipe2(probe, O_CLOEXEC | O_NONBLOCK) != 0) probe[0] = probe[1] = -1;
  ember_native_thread();
  /* What the unwinder does the first time is done now. */
  unwind(&crash_frames, caller, 0);
  watch_threads();
  struct sigaction watch = {.sa_sigaction = on_crash, .sa_flags = SA_SIGINFO | SA_ONSTACK | SA_NODEFER};
  sigemptyset(&watch.sa_mask);
  for (int at = 0; at < watched_count; at++) sigaction(watched[at], &watch, &before[at]);
  return 0;
}

void ember_native_stop(void) {
  if (prepared_fd < 0) return;
  for (int at = 0; at < watched_count; at++) sigaction(watched[at], &before[at], NULL);
  if (thread_signal) sigaction(thread_signal, &before_thread_signal, NULL);
  unlink(prepared_path);
  close(prepared_fd);
  prepared_fd = -1;
}

int ember_native_error(const char *type, const char *message) {
  if (!folder_path[0]) return EINVAL;
  char path[512], id[37];
  int fd = open_file(path, sizeof path, id);
  if (fd < 0) return errno ? errno : EIO;
  struct writer out = {.fd = fd};
  struct frames frames;
  put_head(&out, "error", id);
  put_exception(&out, type && *type ? type : "error", message ? message : "");
  put_thread(&out, thread_id(), true);
  /* The frame of this function is nobody's business. */
  if (unwind(&frames, caller, 2)) put_frames(&out, "unwound", &frames);
  put_images(&out);
  put_trail(&out);
  put(&out, "end\n");
  flush(&out);
  close(fd);
  return 0;
}

int ember_native_pending(const char *folder, void (*file)(const char *path, void *with), void *with) {
  DIR *entries = opendir(folder);
  int found = 0;
  if (!entries) return 0;
  for (struct dirent *entry; (entry = readdir(entries));) {
    size_t length = strlen(entry->d_name);
    char path[768], head[12] = "";
    if (length < 7 || strcmp(entry->d_name + length - 6, ".ember") != 0) continue;
    snprintf(path, sizeof path, "%s/%s", folder, entry->d_name);
    int fd = open(path, O_RDONLY | O_CLOEXEC);
    if (fd < 0) continue;
    bool is_left = flock(fd, LOCK_EX | LOCK_NB) == 0;
    bool is_told = is_left && read(fd, head, sizeof head) == sizeof head && memcmp(head, "ember-crash ", sizeof head) == 0;
    close(fd);
    if (is_told) {
      found++;
      file(path, with);
    } else if (is_left) unlink(path);
  }
  closedir(entries);
  return found;
}
