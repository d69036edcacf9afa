import android.app.Activity;
import android.app.ActivityManager;
import android.app.Application;
import android.app.ApplicationExitInfo;
import android.content.Context;
import android.os.Handler;
import android.os.Looper;
import java.io.File;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.concurrent.CountDownLatch;
import okhttp3.HttpUrl;
import okhttp3.Interceptor;
import okhttp3.Request;
import okhttp3.Response;

/**
 * Launches the app: GuideApp <server> <key> <folder> <native client: yes or no> [<reason> <time> <trace file or -> <summary or ->]…
 * With -Dhangs its main thread stands still for a while; with -Dshy it has no permission that it can do without; with -Dviews it sends its views;
 * with -Daway it is in the background for long.
 */
public final class GuideApp extends Application {
  static final class MapActivity extends Activity {}

  /** A request for a tile that the server refuses. */
  static final class Tiles implements Interceptor.Chain {
    @Override public Request request() {
      return new Request("GET", new HttpUrl("https://tiles.larkfield.example/night/14/8817.png?user=7"));
    }

    @Override public Response proceed(Request request) {
      return new Response(503);
    }
  }

  static void readNestBoxes() {
    try {
      Thread.sleep(4_000);
    } catch (InterruptedException ended) {
      Thread.currentThread().interrupt();
    }
  }

  public static void main(String[] words) throws Exception {
    Context.filesDir = new File(words[2]);
    for (int at = 4; at + 3 < words.length; at += 4)
      ActivityManager.known.add(new ApplicationExitInfo(4_000 + at, Integer.parseInt(words[at]), Long.parseLong(words[at + 1]),
          words[at + 2].equals("-") ? null : Files.readAllBytes(new File(words[at + 2]).toPath()),
          words[at + 3].equals("-") ? null : words[at + 3].replace('|', '\n').getBytes(StandardCharsets.UTF_8)));
    GuideApp app = new GuideApp();
    Context.mayLookAtNetworks = System.getProperty("shy") == null;
    EmberReporter.Options options = EmberAndroid.optionsOf(app, words[0], words[1]);
    if (System.getProperty("hangs") != null) options.hangMs = 1_200;
    if (System.getProperty("away") != null) options.awayMs = 100;
    if (System.getProperty("views") != null) EmberAndroid.sendViewTree(options);
    EmberReporter reporter = EmberAndroid.install(app, options, words[3].equals("yes"));
    Activity map = new MapActivity();
    for (Application.ActivityLifecycleCallbacks one : app.activities) {
      one.onActivityStarted(map);
      one.onActivityResumed(map);
    }
    app.components.forEach(one -> one.onLowMemory());
    for (Application.ActivityLifecycleCallbacks one : app.activities) one.onActivityStopped(map);
    if (System.getProperty("away") != null) {
      for (int waited = 0; waited < 100 && ActivityManager.summary == null; waited++) Thread.sleep(50);
      Thread.sleep(300);
      for (Application.ActivityLifecycleCallbacks one : app.activities) one.onActivityStarted(map);
    }
    for (int waited = 0; waited < 100 && ActivityManager.summary == null; waited++) Thread.sleep(50);
    new EmberRequests(reporter).intercept(new Tiles());
    if (System.getProperty("hangs") != null) {
      CountDownLatch stood = new CountDownLatch(1);
      new Handler(Looper.getMainLooper()).post(() -> {
        readNestBoxes();
        stood.countDown();
      });
      stood.await();
      Thread.sleep(600);
    }
    reporter.report(new IllegalStateException("no perch"));
    reporter.flush(10_000);
    System.out.println(new String(ActivityManager.summary, StandardCharsets.UTF_8).replace('\n', '|'));
  }
}
