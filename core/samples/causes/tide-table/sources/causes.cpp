#include "causes.h"

#include "table.h"

using namespace tide;

namespace {

volatile int result;

Table sample() {
  Table table;
  Station quay;
  quay.name = "quay";
  table.add(std::move(quay));
  return table;
}

void unknownInHeight() { result = sample().heightAt("pier", 3); }
void unknownInHighest() { result = sample().highest("pier"); }
void noHeights() { result = sample().heightAt("quay", 3); }
void noHeightsInHighest() { result = sample().highest("quay"); }
void endlessWalk() {
  Station ring;
  ring.next = &ring;
  result = sample().walk(&ring);
}
void deadPort() {
  Radio radio;
  result = radio.average(4);
}
void noSamples() {
  int port[5] = {1, 2, 3, 4, 5};
  Radio radio;
  radio.port = port;
  result = radio.average(0);
}
void noPoints() { result = interpolate(nullptr, 4, 2); }
void visitor() {
  const int *scale = nullptr;
  sample().each([&](const Station &station) { result = scale[station.name.size()]; });
}

}  // namespace

const Cause causes[] = {
    {"unknownInHeight", unknownInHeight},
    {"unknownInHighest", unknownInHighest},
    {"noHeights", noHeights},
    {"noHeightsInHighest", noHeightsInHighest},
    {"endlessWalk", endlessWalk},
    {"deadPort", deadPort},
    {"noSamples", noSamples},
    {"noPoints", noPoints},
    {"visitor", visitor},
    {nullptr, nullptr},
};
