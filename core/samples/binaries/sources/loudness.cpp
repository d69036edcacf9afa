#include "song.hpp"

namespace lark {
namespace {
float square(float value) {
  return value * value;
}

int bucket(float value) {
  return value < 0.1f ? 0 : value < 0.5f ? 1 : 2;
}
} // namespace

float loudness(const float *samples, size length) {
  const Window<float> window{samples, length};
  float sum = 0;
  window.each([&sum](float value) {
    auto add = [&sum](float more) { sum += more; };
    add(square(value));
  });
  int histogram[3] = {0, 0, 0};
  for (size index = 0; index < length; index++)
    histogram[bucket(window.at(index))]++;
  note("loud", histogram[2]);
  return sum / static_cast<float>(length ? length : 1);
}
} // namespace lark

extern "C" float lark_loudness(const float *samples, size length) { return lark::loudness(samples, length); }
