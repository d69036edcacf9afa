#pragma once
// Finds bird songs in a stretch of sound. Written to make compilers inline, split and copy code in many ways.
using size = decltype(sizeof(0));

extern "C" void note(const char *text, long value);
extern "C" [[noreturn]] void give_up(const char *reason);

namespace lark {

template <typename Sample> struct Window {
  const Sample *samples;
  size length;
  const Sample &at(size index) const {
    if (__builtin_expect(index >= length, 0))
      give_up("a sample outside of the window");
    return samples[index];
  }
  template <typename Take> void each(Take take) const {
    for (size index = 0; index < length; index++)
      take(at(index));
  }
};

template <int Step, typename Sample> inline __attribute__((always_inline)) Sample smooth(const Window<Sample> &window, size from) {
  Sample sum = 0;
  for (int step = 0; step < Step; step++)
    sum += window.at(from + static_cast<size>(step));
  return sum / Step;
}

class Detector {
public:
  struct Match {
    size place;
    float strength;
  };
  explicit Detector(float threshold);
  virtual ~Detector();
  virtual Match find(const Window<float> &window) const;
  long count(const Window<short> &window);

private:
  float threshold_;
  long seen_ = 0;
};

float loudness(const float *samples, size length);
} // namespace lark
