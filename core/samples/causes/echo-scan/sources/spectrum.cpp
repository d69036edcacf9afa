#include "spectrum.h"

#include <cstdio>
#include <cstring>

namespace echo {

volatile int sink;

__attribute__((noinline)) void require(bool holds, const char *what) {
  if (holds) return;
  fprintf(stderr, "required: %s\n", what);
  std::abort();
}

int Chirp::length() const {
  return samples[0] + samples[1];
}

int Trill::length() const {
  return part->length() * 2;
}

static int lengthOf(const Call *call) {
  return call->length() + 1;
}

int measure(const std::vector<Call *> &calls) {
  int sum = 0;
  for (const Call *call : calls) sum += lengthOf(call);
  return sum;
}

int sortByLength(std::vector<Call *> calls) {
  std::sort(calls.begin(), calls.end(), [](const Call *one, const Call *other) { return one->length() < other->length(); });
  return static_cast<int>(calls.size());
}

static const char *fieldOf(const char *line, char name) {
  const char *at = strchr(line, name);
  require(at != nullptr, "a field");
  return at + 1;
}

int parseLine(const char *line) {
  return parseHeader(line) + parseGain(line);
}

int parseHeader(const char *line) {
  return atoi(fieldOf(line, 'h')) + 1;
}

int parseGain(const char *line) {
  return 100 / atoi(fieldOf(line, 'g'));
}

int descend(int depth) {
  char room[64];
  memset(room, depth, sizeof room);
  sink = room[depth & 63];
  return descend(depth + 1) + room[3];
}

__attribute__((noinline)) static int answer(int depth) {
  char room[32];
  memset(room, depth, sizeof room);
  sink = room[depth & 31];
  return echoOf(depth + 1) + room[1];
}

int echoOf(int depth) {
  volatile int kept = depth;
  return answer(depth) + kept;
}

int scatter(const std::function<int(int)> &body, int depth) {
  return body(depth) + depth;
}

int deepest(const Call *call, int depth) {
  return depth > 2 ? lengthOf(call) : deepest(call, depth + 1) + depth;
}

}  // namespace echo
