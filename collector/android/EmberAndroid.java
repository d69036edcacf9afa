import android.app.Activity;
import android.app.ActivityManager;
import android.app.Application;
import android.app.ApplicationExitInfo;
import android.content.ComponentCallbacks2;
import android.content.Context;
import android.content.pm.ApplicationInfo;
import android.content.pm.PackageInfo;
import android.content.res.Configuration;
import android.net.ConnectivityManager;
import android.net.NetworkCapabilities;
import android.os.BatteryManager;
import android.os.Build;
import android.os.Bundle;
import android.os.Handler;
import android.os.Looper;
import android.os.StatFs;
import android.telephony.TelephonyManager;
import android.view.View;
import android.view.ViewGroup;
import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.lang.ref.WeakReference;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.UUID;

/**
 * What Android adds to {@link EmberReporter}: screens and lifecycle by themselves, and what the system knows of earlier ends: native crashes,
 * hangs, and processes that it ended for their memory. Two files to copy into an app; Android 5 and later, ends from Android 11 on.
 *
 * <pre>
 * EmberAndroid.install(this, "https://ember.example", "intake_…");   // in onCreate of the Application
 * </pre>
 */
public final class EmberAndroid {
  /** From where on Android tells why processes ended. */
  private static final int TELLS_ENDS = 30;
  private static final int TELLS_CHARGING = 23;
  private static final int MOST_ENDS = 16;
  private static final int MOST_TRACE_BYTES = 4_000_000;

  private EmberAndroid() {}

  /** Starts reporting, with the version that the package manager knows. */
  public static EmberReporter install(Application app, String server, String key) {
    return install(app, optionsOf(app, server, key), false);
  }

  /**
   * Starts reporting.
   *
   * @param hasNativeClient the app's native code has `ember_native` in it, which tells its crashes with more than the system does
   */
  public static EmberReporter install(Application app, EmberReporter.Options options, boolean hasNativeClient) {
    EmberReporter reporter = EmberReporter.install(options);
    if (reporter.isOff()) return reporter;
    try {
      Watcher watcher = new Watcher(app, reporter);
      app.registerActivityLifecycleCallbacks(watcher);
      app.registerComponentCallbacks(watcher);
      // Of a main thread that never answers again the system tells itself, with what each thread waits for.
      reporter.watch(Looper.getMainLooper().getThread(), new Handler(Looper.getMainLooper())::post, Build.VERSION.SDK_INT >= TELLS_ENDS);
      if (Build.VERSION.SDK_INT >= TELLS_ENDS) {
        Thread thread = new Thread(() -> new Ends(app, reporter, hasNativeClient).tell(), "ember-ends");
        thread.setDaemon(true);
        thread.start();
      }
    } catch (Throwable problem) {
      // An app must run without its reporter.
      System.err.println("Rough Ember hears nothing of Android: " + problem);
    }
    return reporter;
  }

  /** What the package manager and the device know. */
  public static EmberReporter.Options optionsOf(Application app, String server, String key) {
    String version = "unknown";
    String build = "unknown";
    try {
      PackageInfo known = app.getPackageManager().getPackageInfo(app.getPackageName(), 0);
      version = known.versionName;
      build = String.valueOf(known.versionCode);
    } catch (Exception problem) {
      // Its own package is known to every app.
    }
    EmberReporter.Options options = new EmberReporter.Options(server, key, version, build, app.getFilesDir());
    boolean isDebuggable = (app.getApplicationInfo().flags & ApplicationInfo.FLAG_DEBUGGABLE) != 0;
    options.buildType = isDebuggable ? "debug" : "release";
    options.osName = "Android";
    options.osVersion = Build.VERSION.RELEASE;
    options.deviceModel = Build.MODEL;
    options.circumstances = () -> circumstancesOf(app);
    return options;
  }

  private static final int MOST_VIEWS = 1_000;
  private static final int DEEPEST_VIEW = 40;
  /** The one that is shown, which may go at any time. */
  private static volatile WeakReference<Activity> shown = new WeakReference<>(null);

  /** Sends the views of the screen with each report, by class and id, and never what stands in them. */
  public static void sendViewTree(EmberReporter.Options options) {
    options.viewTree = () -> {
      Activity activity = shown.get();
      if (activity == null) return null;
      StringBuilder tree = new StringBuilder();
      addView(tree, activity.getWindow().getDecorView(), 0, new int[1]);
      return tree.toString();
    };
  }

  private static void addView(StringBuilder tree, View view, int depth, int[] count) {
    if (view == null || depth > DEEPEST_VIEW || count[0]++ >= MOST_VIEWS) return;
    for (int at = 0; at < depth; at++) tree.append("  ");
    tree.append(view.getClass().getSimpleName());
    try {
      String name = view.getId() == View.NO_ID ? null : view.getResources().getResourceEntryName(view.getId());
      if (name != null) tree.append('#').append(name);
    } catch (RuntimeException noName) {
      // Ids that code made up have none.
    }
    if (view.getVisibility() != View.VISIBLE) tree.append(" hidden");
    tree.append('\n');
    if (!(view instanceof ViewGroup)) return;
    ViewGroup group = (ViewGroup) view;
    for (int at = 0; at < group.getChildCount(); at++) addView(tree, group.getChildAt(at), depth + 1, count);
  }

  /** One part of what is known of the device and its surroundings. */
  private interface Part {
    void addTo(Map<String, Object> told) throws Exception;
  }

  /** What is known of the device and its surroundings now; what the app has no permission for is left out. */
  private static Map<String, Object> circumstancesOf(Application app) {
    Map<String, Object> device = new LinkedHashMap<>();
    device.put("manufacturer", Build.MANUFACTURER);
    device.put("model", Build.MODEL);
    add(device, told -> {
      ActivityManager.MemoryInfo memory = new ActivityManager.MemoryInfo();
      ((ActivityManager) app.getSystemService(Context.ACTIVITY_SERVICE)).getMemoryInfo(memory);
      told.put("memory", amount(memory.totalMem, memory.availMem));
    });
    add(device, told -> {
      StatFs disk = new StatFs(app.getFilesDir().getPath());
      told.put("disk", amount(disk.getTotalBytes(), disk.getAvailableBytes()));
    });
    add(device, told -> {
      BatteryManager battery = (BatteryManager) app.getSystemService(Context.BATTERY_SERVICE);
      int percent = battery.getIntProperty(BatteryManager.BATTERY_PROPERTY_CAPACITY);
      if (percent >= 0 && percent <= 100) told.put("batteryPercent", percent);
      if (Build.VERSION.SDK_INT >= TELLS_CHARGING) told.put("charging", battery.isCharging());
    });
    add(device, told -> {
      boolean isWide = app.getResources().getConfiguration().orientation == Configuration.ORIENTATION_LANDSCAPE;
      told.put("orientation", isWide ? "landscape" : "portrait");
    });
    // Signs, and no proof: who hides them is not found.
    device.put("emulator", Build.HARDWARE.equals("ranchu") || Build.HARDWARE.equals("goldfish"));
    device.put("rooted", Build.TAGS.contains("test-keys") || new File("/system/xbin/su").exists() || new File("/system/bin/su").exists());
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("device", device);
    all.put("locale", Locale.getDefault().toLanguageTag());
    add(all, told -> told.put("network", networkOf(app)));
    add(all, told -> {
      TelephonyManager phone = (TelephonyManager) app.getSystemService(Context.TELEPHONY_SERVICE);
      if (!phone.getNetworkOperatorName().isEmpty()) told.put("carrier", phone.getNetworkOperatorName());
      String country = phone.getNetworkCountryIso().toUpperCase(Locale.ROOT);
      if (country.matches("[A-Z]{2}")) told.put("country", country);
    });
    add(all, told -> told.put("sideLoaded", app.getPackageManager().getInstallerPackageName(app.getPackageName()) == null));
    return all;
  }

  private static void add(Map<String, Object> told, Part part) {
    try {
      part.addTo(told);
    } catch (Exception unknown) {
      // It has no permission, or this device has no such thing.
    }
  }

  private static Map<String, Object> amount(long total, long free) {
    Map<String, Object> amount = new LinkedHashMap<>();
    amount.put("totalBytes", total);
    amount.put("freeBytes", free);
    return amount;
  }

  /** Needs the permission ACCESS_NETWORK_STATE. */
  private static String networkOf(Application app) {
    ConnectivityManager manager = (ConnectivityManager) app.getSystemService(Context.CONNECTIVITY_SERVICE);
    NetworkCapabilities found = manager.getNetworkCapabilities(manager.getActiveNetwork());
    if (found == null) return "none";
    if (found.hasTransport(NetworkCapabilities.TRANSPORT_WIFI)) return "wifi";
    if (found.hasTransport(NetworkCapabilities.TRANSPORT_CELLULAR)) return "cellular";
    return found.hasTransport(NetworkCapabilities.TRANSPORT_ETHERNET) ? "wired" : "other";
  }

  /** Notes which screen is shown, and whether the app is. */
  private static final class Watcher implements Application.ActivityLifecycleCallbacks, ComponentCallbacks2 {
    private final Application app;
    private final EmberReporter reporter;
    private int started = 0;

    Watcher(Application app, EmberReporter reporter) {
      this.app = app;
      this.reporter = reporter;
    }

    @Override public void onActivityStarted(Activity activity) {
      if (started++ > 0) return;
      String before = reporter.sessionId();
      reporter.lifecycle("foreground");
      if (before.equals(reporter.sessionId()) || Build.VERSION.SDK_INT < TELLS_ENDS) return;
      Ends.sayWhose((ActivityManager) app.getSystemService(Context.ACTIVITY_SERVICE), reporter);
    }

    @Override public void onActivityResumed(Activity activity) {
      shown = new WeakReference<>(activity);
      reporter.screen(activity.getClass().getSimpleName());
    }

    @Override public void onActivityStopped(Activity activity) {
      if (--started == 0) reporter.lifecycle("background");
    }

    @Override public void onLowMemory() {
      reporter.lifecycle("low-memory");
    }

    @Override public void onTrimMemory(int level) {
      if (level >= TRIM_MEMORY_RUNNING_LOW && level < TRIM_MEMORY_UI_HIDDEN) reporter.lifecycle("low-memory");
    }

    @Override public void onActivityCreated(Activity activity, Bundle state) {}
    @Override public void onActivityPaused(Activity activity) {}
    @Override public void onActivitySaveInstanceState(Activity activity, Bundle state) {}
    @Override public void onActivityDestroyed(Activity activity) {}
    @Override public void onConfigurationChanged(Configuration configuration) {}
  }

  /** Why earlier processes of the app ended, as the system keeps it; each is told once. */
  private static final class Ends {
    private final Application app;
    private final EmberReporter reporter;
    private final boolean hasNativeClient;
    private final File seenFile;

    Ends(Application app, EmberReporter reporter, boolean hasNativeClient) {
      this.app = app;
      this.reporter = reporter;
      this.hasNativeClient = hasNativeClient;
      this.seenFile = new File(reporter.folder(), "ends");
    }

    void tell() {
      try {
        ActivityManager manager = (ActivityManager) app.getSystemService(Context.ACTIVITY_SERVICE);
        long seen = seen();
        long newest = seen;
        for (ApplicationExitInfo end : manager.getHistoricalProcessExitReasons(app.getPackageName(), 0, MOST_ENDS)) {
          if (end.getTimestamp() <= seen) continue;
          newest = Math.max(newest, end.getTimestamp());
          tell(end);
        }
        if (newest > seen) Files.write(seenFile.toPath(), String.valueOf(newest).getBytes(StandardCharsets.UTF_8));
        sayWhose(manager, reporter);
      } catch (Throwable problem) {
        System.err.println("Rough Ember could not tell how the app ended: " + problem);
      }
    }

    /** Says beforehand whose end it is, in at most 128 bytes, should this process end in such a way. */
    static void sayWhose(ActivityManager manager, EmberReporter reporter) {
      String self = reporter.version() + "\n" + reporter.build() + "\n" + reporter.sessionId();
      byte[] summary = self.getBytes(StandardCharsets.UTF_8);
      if (summary.length <= 128) manager.setProcessStateSummary(summary);
    }

    private void tell(ApplicationExitInfo end) throws IOException {
      byte[] trace = null;
      switch (end.getReason()) {
        case ApplicationExitInfo.REASON_CRASH_NATIVE:
          if (hasNativeClient) return;
          trace = traceOf(end);
          break;
        case ApplicationExitInfo.REASON_ANR:
          trace = traceOf(end);
          break;
        case ApplicationExitInfo.REASON_LOW_MEMORY:
        case ApplicationExitInfo.REASON_EXCESSIVE_RESOURCE_USAGE:
        case ApplicationExitInfo.REASON_INITIALIZATION_FAILURE:
          break;
        default:
          // An exception was told where it was thrown; all other ends are nobody's fault.
          return;
      }
      Map<String, String> about = new LinkedHashMap<>();
      String self = end.getProcessName() + " " + end.getPid() + " " + end.getTimestamp();
      about.put("id", UUID.nameUUIDFromBytes((reporter.installationId() + " " + self).getBytes(StandardCharsets.UTF_8)).toString());
      about.put("occurredAt", EmberReporter.timeOf(end.getTimestamp()));
      about.put("installationId", reporter.installationId());
      about.put("osName", "Android");
      about.put("osVersion", Build.VERSION.RELEASE);
      about.put("deviceModel", Build.MODEL);
      byte[] summary = end.getProcessStateSummary();
      String[] known = summary == null ? new String[0] : new String(summary, StandardCharsets.UTF_8).split("\n");
      about.put("version", known.length == 3 ? known[0] : reporter.version());
      about.put("build", known.length == 3 ? known[1] : reporter.build());
      if (known.length == 3) about.put("sessionId", known[2]);
      // Without a trace the system's own words are all there is.
      reporter.file(about, trace != null ? trace : end.toString().getBytes(StandardCharsets.UTF_8));
    }

    private long seen() {
      try {
        return Long.parseLong(new String(Files.readAllBytes(seenFile.toPath()), StandardCharsets.UTF_8).trim());
      } catch (IOException | NumberFormatException never) {
        return 0;
      }
    }

    private static byte[] traceOf(ApplicationExitInfo end) throws IOException {
      try (InputStream in = end.getTraceInputStream()) {
        if (in == null) return null;
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        byte[] part = new byte[8192];
        for (int count = in.read(part); count >= 0 && out.size() < MOST_TRACE_BYTES; count = in.read(part)) out.write(part, 0, count);
        return out.size() == 0 ? null : out.toByteArray();
      }
    }
  }
}
