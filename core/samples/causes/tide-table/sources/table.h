#pragma once
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace tide {

struct Station {
  std::string name;
  std::unique_ptr<std::vector<int>> heights;
  Station *next = nullptr;
};

class Table {
 public:
  void add(Station station);
  int heightAt(const std::string &name, int hour) const;
  int highest(const std::string &name) const;
  int walk(const Station *station) const;
  template <typename Visit>
  void each(Visit visit) const {
    for (const auto &entry : stations_) visit(entry.second);
  }

 private:
  const Station &find(const std::string &name) const;
  std::map<std::string, Station> stations_;
};

class Buoy {
 public:
  virtual ~Buoy() = default;
  virtual int read() = 0;
  int average(int samples) { return read() / samples; }
};

class Radio : public Buoy {
 public:
  int read() override;
  int *port = nullptr;
};

int interpolate(const int *points, int count, int at);

}  // namespace tide
