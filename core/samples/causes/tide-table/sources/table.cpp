#include "table.h"

#include <cstdlib>
#include <cstring>

namespace tide {

void Table::add(Station station) {
  auto name = station.name;
  stations_.emplace(name, std::move(station));
}

const Station &Table::find(const std::string &name) const {
  auto found = stations_.find(name);
  if (found == stations_.end()) abort();
  return found->second;
}

int Table::heightAt(const std::string &name, int hour) const {
  return (*find(name).heights)[hour];
}

int Table::highest(const std::string &name) const {
  int best = 0;
  for (int height : *find(name).heights) best = height > best ? height : best;
  return best;
}

int Table::walk(const Station *station) const {
  volatile char mark[48];
  memset((void *)mark, 1, sizeof mark);
  return walk(station->next) + mark[4];
}

int Radio::read() {
  return port[4];
}

static int weight(const int *points, int at) {
  return points[at] * 3;
}

int interpolate(const int *points, int count, int at) {
  return weight(points, at) / count;
}

}  // namespace tide
