package com.larkfield.ringing;

import java.util.List;

/** What the stories were compiled with; at run time After.java stands in its place. */
class Station {
  final String name;
  int altitude = 3;

  Station(String name) {
    this.name = name;
  }

  String call(Book book, int times) {
    return name + book + times;
  }

  void rename(Book book, int[] marks, List<String> names) {
    System.out.println(name + book + marks.length + names);
  }

  String secret() {
    return name;
  }
}

interface Measure {
  int measure(Book book, int times);
}

class Unfinished implements Measure {
  @Override
  public int measure(Book book, int times) {
    return times;
  }
}

class Tarsus extends Unfinished {}

class Scale {
  int weigh() {
    return 3;
  }
}

class Caliper {
  String open() {
    return "open";
  }
}

interface Gauge {
  String read(Book book);
}

class Gauges {
  static Gauge make() {
    return book -> "read " + book;
  }
}

class Metal {}

class GoldRing extends Metal {}
