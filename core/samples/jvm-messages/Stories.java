package com.larkfield.ringing;

import java.util.ArrayList;
import java.util.Map;

/** Each story makes the virtual machine explain something in a sentence of its own, with names of this program in it. */
public final class Stories {
  private Stories() {}

  public static void main(String[] arguments) {
    Book book = new Book();
    switch (arguments[0]) {
      case "invoke-on-field":
        book.trimOwner();
        break;
      case "invoke-on-result":
        book.firstRing().describe();
        break;
      case "invoke-on-chain":
        System.out.println(book.cover.page.ring.describe());
        break;
      case "invoke-on-static":
        System.out.println(Book.shared.firstRing());
        break;
      case "invoke-on-array":
        System.out.println(book.rings[1].describe());
        break;
      case "invoke-with-parameters":
        book.station(7, null).rename(book, new int[] {1}, new ArrayList<>());
        break;
      case "invoke-on-parameter":
        describe(arguments.length > 9 ? book.firstRing() : null);
        break;
      case "read-field":
        System.out.println(book.cover.next.page);
        break;
      case "write-field":
        book.cover.next.page = new Page();
        break;
      case "field-of-result":
        System.out.println(book.copy().cover.page.ring.weight);
        break;
      case "array-length":
        System.out.println(book.marks.length);
        break;
      case "array-load":
        System.out.println(book.marks[2]);
        break;
      case "array-store":
        book.grid[1][0] = 4;
        break;
      case "throw-null":
        throw book.problem;
      case "lock":
        lock(book);
        break;
      case "unbox":
        System.out.println(book.weights.get("wren") + 1);
        break;
      case "cast":
        System.out.println(((Ring) book.anything()).describe());
        break;
      case "cast-to-library":
        System.out.println((String) book.anything());
        break;
      case "cast-from-library":
        System.out.println(((Ring) book.text()).describe());
        break;
      case "cast-array":
        System.out.println(((Ring[]) book.pages()).length);
        break;
      case "array-of-others":
        arrayOfOthers(book);
        break;
      case "array-copy":
        arrayCopy(book);
        break;
      case "enum-constant":
        System.out.println(Size.valueOf(book.ownerName()));
        break;
      case "no-such-method":
        System.out.println(new Station("moor").call(book, 3));
        break;
      case "no-such-field":
        System.out.println(new Station("moor").altitude);
        break;
      case "abstract-method":
        System.out.println(new Tarsus().measure(book, 2));
        break;
      case "no-such-class":
        System.out.println(new Scale().weigh());
        break;
      case "private-method":
        System.out.println(new Station("moor").secret());
        break;
      case "class-changed":
        System.out.println(new Caliper().open());
        break;
      case "initializer":
        initializer(book);
        break;
      case "quoted-cause":
        quotedCause(book);
        break;
      case "interface-became-class":
        System.out.println(Gauges.make().read(book));
        break;
      case "no-longer-assignable":
        System.out.println(Mount.mount());
        break;
      case "native":
        System.out.println(book.weigh(3, book));
        break;
      default:
        throw new IllegalArgumentException(arguments[0]);
    }
  }

  private static void lock(Book book) {
    synchronized (book.lock) {
      System.out.println("locked");
    }
  }

  private static void arrayOfOthers(Book book) {
    Object[] rings = new Ring[2];
    rings[0] = book.anything();
  }

  private static void arrayCopy(Book book) {
    Object[] source = {book.anything()};
    System.arraycopy(source, 0, new Ring[1], 0, 1);
  }

  private static void initializer(Book book) {
    try {
      System.out.println(Broken.value);
    } catch (ExceptionInInitializerError failed) {
      System.out.println(Broken.value);
    }
  }

  private static void quotedCause(Book book) {
    try {
      book.trimOwner();
    } catch (NullPointerException failed) {
      throw new IllegalStateException(failed);
    }
  }

  private static void describe(Ring ring) {
    System.out.println(ring.describe());
  }
}

class Book {
  static Book shared;
  String owner;
  Object lock;
  Cover cover = new Cover();
  Ring[] rings = new Ring[3];
  int[] marks;
  int[][] grid = new int[2][];
  RuntimeException problem;
  final Map<String, Integer> weights = new java.util.HashMap<>();

  void trimOwner() {
    System.out.println(owner.trim());
  }

  Ring firstRing() {
    return rings[0];
  }

  Station station(int number, Book of) {
    return of == null ? null : new Station("number " + number);
  }

  Book copy() {
    Book copy = new Book();
    copy.cover.page = new Page();
    return copy;
  }

  Object anything() {
    return new Page();
  }

  Object text() {
    return "a page";
  }

  Object pages() {
    return new Page[4];
  }

  String ownerName() {
    return "TINY";
  }

  native int weigh(int grams, Book of);
}

class Cover {
  Page page;
  Cover next;
}

class Page {
  Ring ring;
}

class Ring {
  int weight;

  String describe() {
    return "ring of " + weight;
  }
}

enum Size {
  SMALL,
  LARGE
}

class Broken {
  static int value = Integer.parseInt("heavy");
}

class Mount {
  static String mount() {
    return accept(new GoldRing());
  }

  static String accept(Metal metal) {
    return "mounted " + metal;
  }
}
