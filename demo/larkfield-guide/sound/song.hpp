#pragma once
// Finds out which bird sings. The guide hands over what the microphone heard.
using size = decltype(sizeof(0));

namespace lark {

// A stretch of sound; every sample is looked at through `at`, which ends the process beyond its borders.
template <typename Sample> struct Window {
  const Sample *samples;
  size length;
  const Sample &at(size index) const {
    if (index >= length)
      __builtin_trap();
    return samples[index];
  }
};

struct Match {
  int species;
  float certainty;
};

class Identifier {
public:
  explicit Identifier(float threshold) : threshold_(threshold) {}
  Match identify(const Window<float> &window) const;

private:
  float loudest(const Window<float> &window) const;
  float threshold_;
};

} // namespace lark
