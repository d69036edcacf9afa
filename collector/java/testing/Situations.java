import java.io.File;

/** Does what a situation asks of an app: Situations <server> <key> <folder> <what>. */
public final class Situations {
  public static void main(String[] words) throws Exception {
    String what = words[3];
    EmberReporter.Options options = new EmberReporter.Options(words[0], words[1], "4.3.0", "430", new File(words[2]));
    options.personId = "warden-7";
    if (what.equals("debug")) options.buildType = "debug";
    final EmberReporter[] self = new EmberReporter[1];
    if (what.equals("state-fails")) options.stateAtCrash = () -> { throw new IllegalStateException("no state"); };
    if (what.equals("state-reports")) {
      options.stateAtCrash = () -> {
        self[0].report(new IllegalStateException("within the state"));
        return "{\"zoom\":14}";
      };
    }
    final EmberReporter reporter = self[0] = EmberReporter.install(options);
    reporter.screen("Map");
    if (what.equals("crash") || what.equals("crash-slowly")) {
      if (what.equals("crash-slowly")) Thread.sleep(150);
      throw new IllegalStateException("no perch");
    }
    if (what.equals("trail")) for (int at = 0; at < 10_000; at++) reporter.screen("screen " + at);
    if (what.equals("many")) for (int at = 0; at < 100; at++) reporter.report(new IllegalStateException("perch " + at));
    else if (what.equals("long")) reporter.report(new IllegalStateException(new String(new char[1_000_000]).replace('\0', 'x')));
    else if (!what.equals("well")) reporter.report(new IllegalStateException("no perch"));
    reporter.end();
    reporter.flush(8_000);
  }
}
