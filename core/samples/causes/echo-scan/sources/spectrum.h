#pragma once
#include <algorithm>
#include <cstdlib>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace echo {

template <typename Sample>
class Spectrum {
 public:
  explicit Spectrum(std::vector<Sample> bins) : bins_(std::move(bins)) {}
  Sample at(size_t bin) const {
    if (bin >= bins_.size()) std::abort();
    return bins_[bin];
  }
  Sample peak() const {
    Sample best = 0;
    for (size_t bin = 0; bin <= bins_.size(); bin++) best = std::max(best, at(bin));
    return best;
  }
  size_t size() const { return bins_.size(); }

 private:
  std::vector<Sample> bins_;
};

struct Call {
  virtual ~Call() = default;
  virtual int length() const = 0;
};

struct Chirp : Call {
  explicit Chirp(const int *samples) : samples(samples) {}
  int length() const override;
  const int *samples;
};

struct Trill : Call {
  int length() const override;
  std::unique_ptr<Chirp> part;
};

int deepest(const Call *call, int depth);
int measure(const std::vector<Call *> &calls);
int sortByLength(std::vector<Call *> calls);
void require(bool holds, const char *what);
int parseLine(const char *line);
int parseHeader(const char *line);
int parseGain(const char *line);
int descend(int depth);
int echoOf(int depth);
int scatter(const std::function<int(int)> &body, int depth);

}  // namespace echo
