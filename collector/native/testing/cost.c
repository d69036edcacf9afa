/* What the native client costs an app: cost <folder> <bare or cost>. */
#include <stdio.h>
#include <string.h>
#include <time.h>

#include "ember_native.h"

static double now_ms(void) {
  struct timespec now;
  clock_gettime(CLOCK_MONOTONIC, &now);
  return now.tv_sec * 1e3 + now.tv_nsec / 1e6;
}

int main(int count, char **words) {
  if (count < 3 || strcmp(words[2], "bare") == 0) return 0;
  double began = now_ms();
  ember_native_start(words[1], "4.3.0", "430");
  double start_ms = now_ms() - began;
  began = now_ms();
  for (int at = 0; at < 2000; at++) ember_native_trail("{\"kind\":\"screen\",\"at\":\"2026-11-30T10:00:00Z\",\"name\":\"Map\"}");
  double screen_us = (now_ms() - began) / 2;
  began = now_ms();
  ember_native_error("IllegalState", "no perch");
  printf("{\"startMs\":%.3f,\"screenUs\":%.3f,\"reportMs\":%.3f}\n", start_ms, screen_us, now_ms() - began);
  ember_native_stop();
  return 0;
}
