package com.larkfield.headers;

import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.util.function.Supplier;

/** Throws exceptions whose own texts look like parts of a stack trace, and tells apart what is text and what is trace. */
public final class Headers {
  static class Trouble extends RuntimeException {
    Trouble(String message) {
      super(message);
    }

    @Override
    public String toString() {
      return getClass().getName() + "{code=3, why='" + getMessage() + "'}";
    }
  }

  static class Problem extends RuntimeException {
    Problem(String message) {
      super(message);
    }

    @Override
    public String toString() {
      return getClass().getName() + "(code=3, why=" + getMessage() + ")";
    }
  }

  static class Stackless extends RuntimeException {
    Stackless(String message, Throwable cause) {
      super(message, cause, false, false);
    }
  }

  static final class Été extends Exception {
    Été(String message) {
      super(message);
    }
  }

  private static String stackOf(Throwable thrown) {
    StringWriter text = new StringWriter();
    thrown.printStackTrace(new PrintWriter(text, true));
    return text.toString();
  }

  private static final String[] messages = {
    "no perch \"oak\" in \"wood\": \"taken\"",
    "it's: a: b -> c ---> d",
    "sync failed\nCaused by: the wind\nand rain",
    "sync failed\nCaused by: timeout",
    "Caused by: timeout",
    "at position 3: a bird was expected",
    "seen:\n\tat the pond\n\tat the moor (east)\n\tat last",
    "seen:\n    at com.larkfield.Fake.spaces(Fake.java:12)\nand more",
    "seen:\n\tat com.larkfield.Fake.tab(Fake.java:12)\nand more",
    "seen\n\t... 3 more\nof them",
    "seen\nSuppressed: by hand",
    "first\n\nthird, after a blank line",
    "\nbegins with a line end",
    "ends with a line end\n",
    "",
    " ",
    "key: value\nother.key: value\nreport.Error",
    "java.lang.IllegalStateException: not this one",
    "before\njava.io.IOException: quoted only\nbehind",
    "wrapped " + stackOf(new java.io.IOException("inside")),
    "wrapped " + stackOf(new java.io.IOException("inside", new RuntimeException("deeper"))),
    "ümläut 鳥 🐦 …",
    "Exception in thread \"other\" nothing",
    "tab\tand\rcarriage return",
  };

  private static Throwable make(int number) {
    int count = messages.length;
    String message = messages[number % count];
    Supplier<Throwable> inner = () -> new java.io.IOException(message);
    switch (number / count) {
      case 0:
        return new IllegalStateException(message);
      case 1:
        return new RuntimeException("outer", inner.get());
      case 2: {
        Throwable thrown = new RuntimeException(message, new Error("root"));
        thrown.addSuppressed(inner.get());
        return thrown;
      }
      case 3:
        return new Trouble(message);
      case 4:
        return new Problem(message);
      case 5:
        return new Stackless(message, inner.get());
      default:
        return new Été(message);
    }
  }

  private static String quoted(String text) {
    if (text == null) return "null";
    StringBuilder json = new StringBuilder("\"");
    for (char letter : text.toCharArray())
      if (letter == '"' || letter == '\\') json.append('\\').append(letter);
      else if (letter < 32) json.append(String.format("\\u%04x", (int) letter));
      else json.append(letter);
    return json.append('"').toString();
  }

  private static String truth(Throwable thrown) {
    StringBuilder json = new StringBuilder();
    json.append("{\"type\":").append(quoted(thrown.getClass().getName()));
    String message = thrown.getMessage();
    if (thrown instanceof Trouble) message = "{code=3, why='" + message + "'}";
    if (thrown instanceof Problem) message = "(code=3, why=" + message + ")";
    json.append(",\"message\":").append(quoted(message)).append(",\"frames\":[");
    String comma = "";
    for (StackTraceElement frame : thrown.getStackTrace()) {
      json.append(comma).append(quoted(frame.toString()));
      comma = ",";
    }
    json.append("]");
    if (thrown.getCause() != null) json.append(",\"cause\":").append(truth(thrown.getCause()));
    if (thrown.getSuppressed().length > 0) json.append(",\"suppressed\":").append(truth(thrown.getSuppressed()[0]));
    return json.append("}").toString();
  }

  public static void main(String[] arguments) throws Throwable {
    PrintStream out = new PrintStream(System.out, true, StandardCharsets.UTF_8);
    if (arguments.length == 0) {
      out.print(messages.length * 7);
      return;
    }
    Throwable thrown = make(Integer.parseInt(arguments[0]));
    out.print(truth(thrown));
    System.setErr(new PrintStream(System.err, true, StandardCharsets.UTF_8));
    if (arguments.length > 1) thrown.printStackTrace();
    else throw thrown;
  }
}
