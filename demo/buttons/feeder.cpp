// The feeder camera's firmware with a button for each way to fail: feeder <server> <key> <folder> <version> <button>.
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <stdexcept>
#include <string>
#include <thread>

#include "ember_native.hpp"

namespace feeder {

struct Clip {
  int frames[4];
};

__attribute__((noinline)) int frames_of(const Clip *clip, int at) { return clip->frames[at]; }
__attribute__((noinline)) int show(const Clip *clip) { return frames_of(clip, 2) + 1; }
__attribute__((noinline)) void open(const char *camera) { throw std::runtime_error(camera); }

// Ends some day, which compilers want of a recursion.
__attribute__((noinline)) int zoom(int level) {
  volatile char room[4096];
  room[level % 4096] = 1;
  return level == -1 ? 0 : level + zoom(level + 1) + room[1];
}

}  // namespace feeder

static volatile int seen;
static std::string sending;

// With the HTTP client of the app, which is the command here; a file that is sent twice is one report.
static void send(const char *path, void *) {
  if (std::system((sending + path).c_str()) == 0) std::remove(path);
}

int main(int count, char **words) {
  if (count < 6) return 2;
  const std::string button = words[5];
  sending = std::string("curl -s --fail '") + words[1] + "/intake/v1/file' -H 'authorization: Bearer " + words[2] + "' --data-binary @";
  ember_native_start(words[3], words[4], "1");
  ember_native_set("deviceModel", "OD-40");
  ember::watch_exceptions();
  if (button == "null-pointer") seen = feeder::show(nullptr);
  if (button == "abort") std::abort();
  if (button == "thrown") feeder::open("no camera at the hazel feeder");
  if (button == "stack-overflow") seen = feeder::zoom(1);
  if (button == "in-a-thread") std::thread([] { seen = feeder::show(nullptr); }).join();
  if (button == "handled") ember_native_error("CameraError", "no clip from the hazel feeder");
  if (button == "none") ember_native_pending(words[3], send, nullptr);
  return 0;
}
