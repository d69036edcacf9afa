import android.app.Activity;
import android.app.ActivityManager;
import android.app.Application;
import android.app.ApplicationExitInfo;
import android.content.Context;
import java.io.File;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;

/** Launches the app: GuideApp <server> <key> <folder> <native client: yes or no> [<reason> <time> <trace file or -> <summary or ->]… */
public final class GuideApp extends Application {
  static final class MapActivity extends Activity {}

  public static void main(String[] words) throws Exception {
    Context.filesDir = new File(words[2]);
    for (int at = 4; at + 3 < words.length; at += 4)
      ActivityManager.known.add(new ApplicationExitInfo(4_000 + at, Integer.parseInt(words[at]), Long.parseLong(words[at + 1]),
          words[at + 2].equals("-") ? null : Files.readAllBytes(new File(words[at + 2]).toPath()),
          words[at + 3].equals("-") ? null : words[at + 3].replace('|', '\n').getBytes(StandardCharsets.UTF_8)));
    GuideApp app = new GuideApp();
    EmberReporter reporter = EmberAndroid.install(app, EmberAndroid.optionsOf(app, words[0], words[1]), words[3].equals("yes"));
    Activity map = new MapActivity();
    for (Application.ActivityLifecycleCallbacks one : app.activities) {
      one.onActivityStarted(map);
      one.onActivityResumed(map);
    }
    app.components.forEach(one -> one.onLowMemory());
    for (Application.ActivityLifecycleCallbacks one : app.activities) one.onActivityStopped(map);
    for (int waited = 0; waited < 100 && ActivityManager.summary == null; waited++) Thread.sleep(50);
    reporter.report(new IllegalStateException("no perch"));
    reporter.flush(10_000);
    System.out.println(new String(ActivityManager.summary, StandardCharsets.UTF_8).replace('\n', '|'));
  }
}
