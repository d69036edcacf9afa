// A program that crashes in the way that it is asked to: crasher <folder> <how>. With "pending" it names the files of others.
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <functional>
#include <map>
#include <stdexcept>
#include <string>
#include <thread>
#include <unistd.h>

#include "ember_native.hpp"

namespace birds {

struct Nest {
  int eggs[4];
};

__attribute__((noinline)) int count(const Nest *nest, int at) { return nest->eggs[at]; }
__attribute__((noinline)) int visit(const Nest *nest) { return count(nest, 2) + 1; }
__attribute__((noinline)) void sing(const char *what) { throw std::runtime_error(what); }

// Ends some day, which compilers want of a recursion.
__attribute__((noinline)) int deep(int depth) {
  volatile char room[4096];
  room[depth % 4096] = 1;
  return depth == -1 ? 0 : depth + deep(depth + 1) + room[1];
}

}  // namespace birds

extern "C" int through_c(const void *, const void *) {
  birds::sing("no perch in C");
  return 0;
}

static void again(int) { *reinterpret_cast<volatile int *>(8) = 1; }

static volatile int seen;
static void (*volatile nowhere)() = nullptr;
static char *volatile freed;

static const std::map<std::string, std::function<void()>> crashes = {
    {"null", [] { seen = birds::visit(nullptr); }},
    {"nowhere", [] { nowhere(); }},
    {"overflow", [] { seen = birds::deep(1); }},
    {"abort", [] { std::abort(); }},
    {"free",
     [] {
       freed = static_cast<char *>(std::malloc(40));
       std::free(freed);
       std::free(freed);
     }},
    {"throw", [] { birds::sing("no perch"); }},
    {"throw-c",
     [] {
       int numbers[2] = {1, 2};
       std::qsort(numbers, 2, sizeof numbers[0], through_c);
     }},
    {"thread", [] { std::thread([] { seen = birds::visit(nullptr); }).join(); }},
    {"thread-overflow",
     [] {
       std::thread([] {
         ember_native_thread();
         seen = birds::deep(1);
       }).join();
     }},
    {"handler",
     [] {
       std::signal(SIGUSR1, again);
       std::raise(SIGUSR1);
     }},
    {"error", [] { ember_native_error("Perch", "none free"); }},
    {"wait",
     [] {
       for (;;) pause();
     }},
    {"well", [] { ember_native_stop(); }},
};

int main(int count, char **words) {
  if (count < 3) return 2;
  const char *folder = words[1];
  if (std::strcmp(words[2], "pending") == 0) {
    ember_native_pending(folder, [](const char *path, void *) { std::puts(path); }, nullptr);
    return 0;
  }
  if (ember_native_start(folder, "4.3.0", "430") != 0) return 3;
  ember::watch_exceptions();
  ember_native_set("personId", "warden-7");
  ember_native_set("attribute.zoom level", "14 % of it");
  ember_native_trail("{\"kind\":\"screen\",\"at\":\"2026-11-30T10:00:00Z\",\"name\":\"Map\"}");
  std::thread([] {
    for (;;) pause();
  }).detach();
  usleep(20000);
  crashes.at(words[2])();
  return 0;
}
