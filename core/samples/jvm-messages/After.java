package com.larkfield.ringing;

import java.util.List;

/** A later state of some classes of Before.java, so that the virtual machine misses what was there. */
class Station {
  final String name;

  Station(String name) {
    this.name = name;
  }

  void rename(Book book, int[] marks, List<String> names) {
    System.out.println(name + book + marks.length + names);
  }

  private String secret() {
    return name;
  }
}

interface Measure {
  int measure(Book book, int times);
}

abstract class Unfinished implements Measure {}

interface Caliper {
  String open();
}

class Gauge {
  String read(Book book) {
    return "read " + book;
  }
}

class Gauges {
  static Gauge make() {
    return new Gauge();
  }
}

class Metal {}

class GoldRing {}
