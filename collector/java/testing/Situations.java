import java.io.File;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.Map;

/** Does what a situation asks of an app: Situations <server> <key> <folder> <what>. */
public final class Situations {
  public static void main(String[] words) throws Exception {
    String what = words[3];
    if (what.equals("bare")) return;
    long heapBefore = what.equals("cost") ? heapBytes() : 0;
    long began = System.nanoTime();
    EmberReporter.Options options = new EmberReporter.Options(words[0], words[1], "4.3.0", "430", new File(words[2]));
    options.personId = "warden-7";
    if (what.equals("debug")) options.buildType = "debug";
    final EmberReporter[] self = new EmberReporter[1];
    if (what.equals("state-fails")) options.stateAtCrash = () -> { throw new IllegalStateException("no state"); };
    if (what.equals("state-reports")) {
      options.stateAtCrash = () -> {
        self[0].report(new IllegalStateException("within the state"));
        return Collections.singletonMap("zoom", 14);
      };
    }
    if (what.equals("sampled")) options.sample.put("error", 0.5);
    if (what.equals("told-trail")) options.sample.put("trail", 1.0);
    if (what.equals("untold-trail")) options.sample.put("trail", 0.0);
    if (what.equals("crash-sampled-out")) options.sample.put("crash", 0.0);
    if (what.equals("scrubbed")) options.beforeSend = json -> json.contains("secret") ? null : json.replace("warden-7", "somebody");
    if (what.equals("scrubbing-fails")) options.beforeSend = json -> { throw new IllegalStateException("no scrubbing"); };
    if (what.equals("dry")) options.dryRun = true;
    if (what.equals("all")) options.circumstances = Situations::circumstances;
    final EmberReporter reporter = self[0] = EmberReporter.install(options);
    double startMs = (System.nanoTime() - began) / 1e6;
    reporter.screen("Map");
    if (what.equals("cost")) {
      tellCost(reporter, startMs, heapBefore);
      System.exit(0);
    }
    if (what.equals("all")) tellAll(reporter);
    if (what.startsWith("crash")) {
      if (what.equals("crash-slowly")) Thread.sleep(150);
      throw new IllegalStateException("no perch");
    }
    if (what.equals("trail")) for (int at = 0; at < 10_000; at++) reporter.screen("screen " + at);
    if (what.equals("many")) for (int at = 0; at < 100; at++) reporter.report(new IllegalStateException("perch " + at));
    else if (what.equals("sampled")) for (int at = 0; at < 40; at++) reporter.report(new IllegalStateException("perch " + at));
    else if (what.equals("long")) reporter.report(new IllegalStateException(new String(new char[1_000_000]).replace('\0', 'x')));
    else if (!what.equals("well")) reporter.report(new IllegalStateException("no perch"));
    if (what.equals("scrubbed")) reporter.report(new IllegalStateException("secret"));
    reporter.end();
    reporter.flush(8_000);
  }

  private static long heapBytes() {
    System.gc();
    return Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory();
  }

  private static void tellCost(EmberReporter reporter, double startMs, long heapBefore) {
    int calls = 2_000;
    long beganCalls = System.nanoTime();
    for (int at = 0; at < calls; at++) reporter.screen("screen " + at % 20);
    double screenUs = (System.nanoTime() - beganCalls) / 1e3 / calls;
    long beganReport = System.nanoTime();
    reporter.report(new IllegalStateException("no perch"));
    double reportMs = (System.nanoTime() - beganReport) / 1e6;
    System.out.println(String.format(java.util.Locale.ROOT, "{\"startMs\":%.3f,\"screenUs\":%.3f,\"reportMs\":%.3f,\"bytes\":%d}",
        startMs, screenUs, reportMs, heapBytes() - heapBefore));
  }

  private static Map<String, Object> circumstances() {
    Map<String, Object> device = new HashMap<>();
    device.put("model", "Tarn Go 3");
    device.put("batteryPercent", 41);
    Map<String, Object> all = new HashMap<>();
    all.put("device", device);
    all.put("network", "wifi");
    return all;
  }

  private static void tellAll(EmberReporter reporter) {
    reporter.person("warden-9");
    reporter.contact("warden@larkfield.example");
    reporter.flag("night-map", "on");
    reporter.attribute("layers", Arrays.asList("night", "tracks"));
    reporter.attribute("zoom", 14);
    reporter.log("warn", "few tiles");
    reporter.custom("export", Collections.singletonMap("rows", 12));
    reporter.request("GET", "tiles.larkfield.example", "/t/{z}", 503, 120);
    reporter.lifecycle("low-memory");
  }
}
