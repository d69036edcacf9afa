import java.io.File;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** The field guide with a button for each way to fail: Guide <server> <key> <folder> <version> <button>. */
public final class Guide {
  static final class Sighting {
    String bird;
  }

  static final class SightingStore {
    private final List<Sighting> sightings = new ArrayList<>();

    int write(Sighting sighting) {
      sightings.add(sighting);
      return sighting.bird.length();
    }

    void export(String file) {
      try {
        write(new Sighting());
      } catch (NullPointerException missing) {
        throw new IllegalStateException("no export to " + file, missing);
      }
    }
  }

  static int climb(int branch) {
    return climb(branch + 1) + 1;
  }

  static void readNestBoxes() throws InterruptedException {
    Thread.sleep(5_000);
  }

  public static void main(String[] words) throws Exception {
    EmberReporter.Options options = new EmberReporter.Options(words[0], words[1], words[3], "1", new File(words[2]));
    options.deviceModel = "OD-40";
    options.hangMs = 1_500;
    EmberReporter reporter = EmberReporter.install(options);
    reporter.screen("Sightings");
    press(words[4], reporter);
    reporter.end();
    reporter.flush(20_000);
    System.exit(0);
  }

  private static void press(String button, EmberReporter reporter) throws Exception {
    SightingStore store = new SightingStore();
    switch (button) {
      case "uncaught":
        store.write(new Sighting());
        break;
      case "with-cause":
        store.export("birds.csv");
        break;
      case "in-a-thread":
        Thread thread = new Thread(() -> store.write(new Sighting()), "tide-table");
        thread.start();
        thread.join();
        break;
      case "stack-overflow":
        climb(0);
        break;
      case "out-of-memory":
        List<long[]> tiles = new ArrayList<>();
        for (;;) tiles.add(new long[10_000_000]);
      case "handled":
        try {
          store.export("birds.csv");
        } catch (IllegalStateException failed) {
          reporter.report(failed);
        }
        break;
      case "hang":
        ExecutorService main = Executors.newSingleThreadExecutor(work -> new Thread(work, "main-loop"));
        Thread[] watched = new Thread[1];
        main.submit(() -> watched[0] = Thread.currentThread()).get();
        reporter.watch(watched[0], main::execute, false);
        main.submit(() -> {
          readNestBoxes();
          return null;
        }).get();
        break;
      default:
        // Starts, and sends what the launch before left.
    }
  }
}
