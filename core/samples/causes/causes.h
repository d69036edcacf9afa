#pragma once

struct Cause {
  const char *name;
  void (*run)();
};

/** Ends with one that has no name. */
extern const Cause causes[];
