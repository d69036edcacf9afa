#include "causes.h"

#include "spectrum.h"

using namespace echo;

namespace {

volatile int result;

void pastTheEnd() { result = static_cast<int>(Spectrum<float>({1, 2}).peak()); }
void pastTheEndOfIntegers() { result = Spectrum<int>({1, 2}).at(7); }
void nullSamples() {
  Chirp chirp(nullptr);
  result = measure({&chirp});
}
void nullPart() {
  Trill trill;
  result = measure({&trill});
}
void nullInSort() {
  int samples[2] = {1, 2};
  Chirp one(samples);
  result = sortByLength({&one, nullptr});
}
void nullAfterRecursion() {
  Call *volatile missing = nullptr;
  result = deepest(missing, 0);
}
void noHeader() { result = parseLine("g1"); }
void noGain() { result = parseLine("h1"); }
void zeroGain() { result = parseLine("h1g0"); }
void endless() { result = descend(0); }
void endlessPair() { result = echoOf(0); }
void endlessFunction() {
  std::function<int(int)> body = [&](int depth) { return scatter(body, depth + 1); };
  result = scatter(body, 0);
}
void callback() {
  const int *missing = nullptr;
  result = scatter([=](int at) { return missing[at]; }, 0);
}

}  // namespace

const Cause causes[] = {
    {"pastTheEnd", pastTheEnd},   {"pastTheEndOfIntegers", pastTheEndOfIntegers},
    {"nullSamples", nullSamples}, {"nullPart", nullPart},
    {"nullInSort", nullInSort},   {"nullAfterRecursion", nullAfterRecursion},
    {"noHeader", noHeader},       {"noGain", noGain},
    {"zeroGain", zeroGain},       {"endless", endless},
    {"endlessPair", endlessPair}, {"endlessFunction", endlessFunction},
    {"callback", callback},       {nullptr, nullptr},
};
