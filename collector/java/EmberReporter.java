import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.FileInputStream;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.HttpURLConnection;
import java.net.URL;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;

/**
 * Reports what nobody caught to a Rough Ember server: one file to copy into any JVM program or Android app, Java 8, no
 * dependencies. A crash is written to a folder of the app at once, and sent when the app is started again.
 *
 * <pre>
 * EmberReporter.install(new EmberReporter.Options("https://ember.example", "intake_…", "4.3.0", "430", folder));
 * </pre>
 */
public final class EmberReporter {
  /** What the reporter must know. The fields that may change are set before {@link #install}. */
  public static final class Options {
    final String server;
    final String key;
    final String version;
    final String build;
    final File folder;
    /** With "debug" nothing is collected unless {@link #inDebugBuilds} is set. */
    public String buildType = "release";
    public boolean inDebugBuilds = false;
    public String osName = System.getProperty("os.name", "JVM");
    public String osVersion = System.getProperty("os.version", "");
    public String deviceModel = null;
    public String personId = null;
    /**
     * Share of each kind ("crash", "hang", "error") that is sent, from 0 to 1; all unless told. Sessions are always sent; "trail" is the share
     * of them that tell what happened in them though nothing went wrong, 0.1 unless told.
     */
    public final Map<String, Double> sample = new HashMap<>();
    /** Asked at the moment of a crash or error; gives the app's own state. */
    public Values stateAtCrash = null;
    /** Asked for each item; gives what the protocol has of the device and its surroundings, such as "device", "network", "locale". */
    public Values circumstances = null;
    /** Asked with each report, when it is set; what it gives is attached. */
    public ViewTree viewTree = null;
    /** Looks at each item before it is kept. */
    public BeforeSend beforeSend = null;
    /** How long a thread that is watched may take to answer before that is a hang, in milliseconds; 0 for no watching. */
    public long hangMs = 5_000;
    /** For how long the app may be in the background, in milliseconds, before coming back begins another session. */
    public long awayMs = 60_000;
    /** Prints what would be sent, and sends nothing. */
    public boolean dryRun = false;

    /** @param folder a folder of the app's own; it is made when it does not exist */
    public Options(String server, String key, String version, String build, File folder) {
      this.server = server.replaceAll("/+$", "");
      this.key = key;
      this.version = version;
      this.build = build;
      this.folder = new File(folder, "ember");
    }
  }

  /** Something that has values now: texts, numbers, booleans, null, or lists and maps of those. */
  public interface Values {
    Map<String, ?> now();
  }

  /** The views of the screen, each on a line and indented by what it lies in. */
  public interface ViewTree {
    String now();
  }

  /** Takes out of an item what is not to leave the device. */
  public interface BeforeSend {
    /** Gives the item, JSON, as it is to be kept; null for not at all. One that fails keeps nothing. */
    String apply(String json);
  }

  /** More waiting reports than these and the oldest are given up. */
  private static final int MAXIMUM_FILES = 40;
  private static final int MAXIMUM_STACK_CHARACTERS = 60_000;
  private static final int MAXIMUM_MESSAGE = 16_000;
  private static final int MAXIMUM_NAME = 300;
  private static final int MAXIMUM_TRAIL = 100;
  private static final int MAXIMUM_SCREENS = 200;
  private static final int MAXIMUM_REQUESTS = 100;
  private static final int MAXIMUM_NAMED = 100;
  private static final int MAXIMUM_FRAMES = 500;
  private static final int MAXIMUM_VIEWS = 60_000;
  private static final int DEEPEST = 8;
  private static final int LAST_DURATION_BUCKET = 239;

  /** Of one request, so that a day without a server ends in several that each can be taken. */
  private static final int BATCH_FILES = 20;
  /** In place of a status of HTTP. */
  private static final int NOTHING_TO_SEND = -1;
  private static final int NOBODY_OF_OURS = -2;

  private final Options options;
  /** It is off: a debug build, or something went wrong at its start. Every call is taken, and nothing happens. */
  private final boolean off;
  private final String installationId;
  /** Held while something is sent, and never while the app waits: nothing but sending takes it. */
  private final Object sending = new Object();
  /** Held while a file is written, so that what is only noted meanwhile waits for no disk. */
  private final Object writing = new Object();
  private boolean toldRefusal = false;
  private volatile String sessionId = uuid();
  private String startedAt = now();
  /** Of a clock that only goes forward, whatever is done to the device's. */
  private long began = System.nanoTime();
  /** Since when the app is in the background, by that clock; 0 while it is not. */
  private long awaySince = 0;
  private final ThreadLocal<Boolean> asksState = new ThreadLocal<>();
  private final Deque<String> trail = new ArrayDeque<>();
  private final Map<String, Integer> screens = new LinkedHashMap<>();
  private final Map<String, RequestCounts> requests = new LinkedHashMap<>();
  private final Map<String, Object> attributes = new LinkedHashMap<>();
  private final Map<String, String> flags = new LinkedHashMap<>();
  private volatile String personId;
  private volatile String contact = null;
  private int sequence = 0;

  private EmberReporter(Options options, boolean off) throws IOException {
    this.options = options;
    this.off = off;
    this.personId = options.personId;
    if (!off && !options.folder.isDirectory() && !options.folder.mkdirs()) throw new IOException("no folder " + options.folder);
    this.installationId = off ? uuid() : installation();
  }

  /**
   * Starts reporting; sends what the last launch left on a thread of its own. Gives a reporter that does nothing when this build is
   * not to report, and when it cannot.
   */
  public static EmberReporter install(Options options) {
    if ("debug".equals(options.buildType) && !options.inDebugBuilds) return idle(options, "debug builds are not reported");
    try {
      final EmberReporter reporter = new EmberReporter(options, false);
      final Thread.UncaughtExceptionHandler earlier = Thread.getDefaultUncaughtExceptionHandler();
      Thread.setDefaultUncaughtExceptionHandler((thread, thrown) -> {
        reporter.keep(thread, thrown, "crash");
        if (earlier != null) earlier.uncaughtException(thread, thrown);
        else {
          System.err.print("Exception in thread \"" + thread.getName() + "\" ");
          thrown.printStackTrace();
        }
      });
      reporter.inBackground(() -> {
        reporter.tellStart();
        reporter.send();
      });
      return reporter;
    } catch (Throwable problem) {
      // An app must run without its reporter.
      return idle(options, problem.toString());
    }
  }

  /** Tells of the session, unless it has crashed until now. */
  private void tellStart() {
    Map<String, Object> context = contextNow();
    String start;
    synchronized (this) {
      start = sequence == 0 ? session("open", context) : null;
    }
    if (start != null) writeItem("session", start);
  }

  private static EmberReporter idle(Options options, String why) {
    tell("is off: " + why);
    try {
      return new EmberReporter(options, true);
    } catch (IOException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  /** What its developer should know; Android shows it in its log. */
  private static void tell(String words) {
    System.err.println("Rough Ember " + words);
  }

  /** Reports an error that the app handled, and goes on. */
  public void report(Throwable thrown) {
    if (off || thrown == null) return;
    keep(Thread.currentThread(), thrown, "error");
    sendInBackground();
  }

  /** A value that reports and the session are told with: a text, number, boolean, or a list of those; null takes it back. */
  public synchronized void attribute(String name, Object value) {
    if (value == null) attributes.remove(clip(name, MAXIMUM_NAME));
    else putBounded(attributes, name, value);
  }

  /** A feature flag or experiment, with the variant that it has from now on; null takes it back. */
  public synchronized void flag(String name, String variant) {
    if (variant == null) flags.remove(clip(name, MAXIMUM_NAME));
    else putBounded(flags, name, clip(variant, 200));
    note("flag", "name", clip(name, MAXIMUM_NAME), "variant", variant == null ? "none" : clip(variant, 200));
  }

  private static <T> void putBounded(Map<String, T> values, String name, T value) {
    String known = clip(name, MAXIMUM_NAME);
    if (!known.isEmpty() && (values.containsKey(known) || values.size() < MAXIMUM_NAMED)) values.put(known, value);
  }

  /** Who uses the app from now on, by the id that the app knows them by; null for nobody it knows. */
  public void person(String id) {
    personId = id;
  }

  /** How the person can be reached, if they left it. */
  public void contact(String how) {
    contact = how == null ? null : clip(how, MAXIMUM_NAME);
  }

  /** A line of the app's log; level is debug, info, warn or error. */
  public void log(String level, String message) {
    note("log", "level", level, "message", clip(message, 2_000));
  }

  /** Something of the app's own, with values or without. */
  public void custom(String name, Map<String, ?> values) {
    if (name != null && !name.isEmpty()) note("custom", "name", clip(name, MAXIMUM_NAME), "attributes", values);
  }

  /** Says which screen is shown now. */
  public synchronized void screen(String given) {
    String name = clip(given, MAXIMUM_NAME);
    if (name.isEmpty()) return;
    note("screen", "name", name);
    if (screens.containsKey(name) || screens.size() < MAXIMUM_SCREENS) screens.merge(name, 1, Integer::sum);
  }

  /**
   * Says how a request went.
   *
   * @param givenPath a template such as "/tiles/{zoom}/{x}", never with a query
   * @param status of HTTP; 0 when no answer came
   */
  public synchronized void request(String givenMethod, String givenHost, String givenPath, int status, long givenMs) {
    String method = clip(givenMethod, 20);
    String host = clip(givenHost, MAXIMUM_NAME);
    String path = clip(givenPath, 1_000);
    long durationMs = Math.max(0, givenMs);
    note("request", "method", method, "host", host, "path", path, "status", status == 0 ? null : status, "durationMs", durationMs);
    String name = "{\"method\":" + quote(method) + ",\"host\":" + quote(host) + ",\"path\":" + quote(path);
    RequestCounts counts = requests.get(name);
    if (counts == null && requests.size() >= MAXIMUM_REQUESTS) return;
    if (counts == null) requests.put(name, counts = new RequestCounts());
    counts.count++;
    if (status == 0 || status >= 400) counts.failed++;
    // Buckets from 2^(bucket/8) up to 2^((bucket+1)/8) milliseconds.
    int bucket = (int) Math.ceil(8 * Math.log(Math.max(1, durationMs)) / Math.log(2)) - 1;
    counts.durations.merge(Math.min(LAST_DURATION_BUCKET, Math.max(0, bucket)), 1, Integer::sum);
  }

  /** A path as a template: numbers and ids stand for themselves, and a query is never kept. */
  static String pathTemplate(String path) {
    StringBuilder template = new StringBuilder();
    for (String part : path.split("[?#]", 2)[0].split("/", -1)) {
      boolean isNumber = part.matches("\\d+");
      boolean isId = part.matches("(?i)[0-9a-f]{8}-?[0-9a-f-]{8,}");
      template.append(template.length() == 0 && part.isEmpty() ? "" : "/").append(isNumber ? "{number}" : isId ? "{id}" : part);
    }
    return template.length() == 0 ? "/" : template.toString();
  }

  /** What the server would refuse must not cost the report it comes with. */
  private static String clip(String text, int characters) {
    return text == null ? "" : text.substring(0, Math.min(text.length(), characters));
  }

  private synchronized void note(String kind, Object... rest) {
    if (off) return;
    Map<String, Object> event = new LinkedHashMap<>();
    event.put("kind", kind);
    event.put("at", now());
    for (int at = 0; at < rest.length; at += 2) if (rest[at + 1] != null) event.put((String) rest[at], rest[at + 1]);
    trail.add(json(event, 0));
    if (trail.size() > MAXIMUM_TRAIL) trail.remove();
  }

  /** How the requests of one kind went. */
  private static final class RequestCounts {
    int count = 0;
    int failed = 0;
    final Map<Integer, Integer> durations = new TreeMap<>();
  }

  /** For the native client: `ember_native_set("sessionId", …)`, so that what crashes there ends this session; another one after a long absence. */
  public String sessionId() {
    return sessionId;
  }

  /** For the native client, likewise. */
  public String installationId() {
    return installationId;
  }

  /** Where the native client may be told to write, so that this reporter sends what it wrote. */
  public File folder() {
    return options.folder;
  }

  /**
   * Keeps a crash file that the system wrote, to be sent now or at the next launch.
   *
   * @param about parameters of POST /intake/v1/file, such as "id"; one that is sent twice is one report by that
   */
  public void file(Map<String, String> about, byte[] bytes) {
    if (off) return;
    try {
      StringBuilder query = new StringBuilder();
      for (Map.Entry<String, String> one : about.entrySet())
        query.append(query.length() == 0 ? "" : "&").append(one.getKey()).append('=').append(URLEncoder.encode(one.getValue(), "UTF-8"));
      ByteArrayOutputStream whole = new ByteArrayOutputStream();
      whole.write(query.append('\n').toString().getBytes(StandardCharsets.UTF_8));
      whole.write(bytes);
      write(".file", "file", whole.toByteArray());
      sendInBackground();
    } catch (IOException | RuntimeException | Error problem) {
      tell("could not keep a crash file: " + problem);
    }
  }

  /**
   * Something that happened to the app: "foreground", "background", "low-memory". In the background it may be ended without a word, so what is
   * known of its session is written down; coming back after more than `awayMs` begins another one.
   */
  public void lifecycle(String state) {
    note("lifecycle", "state", clip(state, MAXIMUM_NAME));
    boolean isOfUse = "background".equals(state) || "foreground".equals(state);
    if (off || !isOfUse) return;
    try {
      Map<String, Object> context = contextNow();
      synchronized (this) {
        if ("background".equals(state) && awaySince == 0) {
          awaySince = System.nanoTime();
          tellInBackground(session("open", context));
        } else if ("foreground".equals(state) && awaySince != 0) {
          if ((System.nanoTime() - awaySince) / 1_000_000 > options.awayMs) beginAnotherSession(context);
          awaySince = 0;
        }
      }
    } catch (RuntimeException | Error problem) {
      tell("could not tell its session: " + problem);
    }
  }

  private void beginAnotherSession(Map<String, Object> context) {
    String ended = session("ended", context);
    awaySince = 0;
    sessionId = uuid();
    startedAt = now();
    began = System.nanoTime();
    sequence = 0;
    screens.clear();
    requests.clear();
    tellInBackground(ended, session("open", context));
  }

  /** Writes items of sessions down and sends them, on a thread of its own: whoever says where the app is waits for no disk. */
  private void tellInBackground(String... items) {
    inBackground(() -> {
      for (String item : items) writeItem("session", item);
      send();
    });
  }

  /** Runs something on a thread that is watched, such as `new Handler(Looper.getMainLooper())::post` or `SwingUtilities::invokeLater`. */
  public interface Poster {
    void post(Runnable work);
  }

  /**
   * Watches a thread that must answer soon, such as that of the user interface: when it takes longer than `hangMs`, a report of kind "hang" is
   * kept with the stacks of all threads, once for each time; with `onlyIfItEnds` when it answers again, for systems that tell of one that never
   * did.
   */
  public void watch(Thread watched, Poster poster, boolean onlyIfItEnds) {
    if (off || options.hangMs <= 0) return;
    Thread thread = new Thread(() -> {
      try {
        watchForHangs(watched, poster, options.hangMs, onlyIfItEnds);
      } catch (InterruptedException ended) {
        Thread.currentThread().interrupt();
      } catch (RuntimeException | Error problem) {
        tell("watches for hangs no more: " + problem);
      }
    }, "ember-watch");
    thread.setDaemon(true);
    thread.start();
  }

  private void watchForHangs(Thread watched, Poster poster, long limitMs, boolean onlyIfItEnds) throws InterruptedException {
    final Object answer = new Object();
    final boolean[] answered = {true};
    while (watched.isAlive()) {
      answered[0] = false;
      long asked = System.nanoTime();
      poster.post(() -> {
        synchronized (answer) {
          answered[0] = true;
          answer.notifyAll();
        }
      });
      synchronized (answer) {
        if (!answered[0]) answer.wait(limitMs);
        if (!answered[0] && (System.nanoTime() - asked) / 1_000_000 >= limitMs) {
          Map<Thread, StackTraceElement[]> stacks = Thread.getAllStackTraces();
          if (!onlyIfItEnds) keepHang(watched, stacks, limitMs);
          while (!answered[0] && watched.isAlive()) answer.wait(1_000);
          if (onlyIfItEnds && answered[0]) keepHang(watched, stacks, (System.nanoTime() - asked) / 1_000_000);
        }
      }
      Thread.sleep(Math.max(100, limitMs / 4));
    }
  }

  private void keepHang(Thread watched, Map<Thread, StackTraceElement[]> stacks, long ms) {
    List<Object> threads = new ArrayList<>();
    for (Map.Entry<Thread, StackTraceElement[]> one : stacks.entrySet()) {
      Map<String, Object> thread = new LinkedHashMap<>();
      thread.put("name", one.getKey().getName());
      thread.put("state", one.getKey().getState().toString());
      thread.put("crashed", one.getKey() == watched);
      // The stack of the one that hangs is told with what happened.
      if (one.getKey() != watched) thread.put("frames", framesOf(one.getValue()));
      if (one.getKey() == watched) threads.add(0, thread);
      else threads.add(thread);
    }
    Map<String, Object> what = new LinkedHashMap<>();
    what.put("type", "hang");
    what.put("message", watched.getName() + " did not answer for " + ms + " ms");
    StackTraceElement[] stack = stacks.get(watched);
    if (stack != null) what.put("frames", framesOf(stack));
    keep("hang", threads, Collections.singletonList((Object) what));
  }

  private static List<Object> framesOf(StackTraceElement[] stack) {
    List<Object> frames = new ArrayList<>();
    for (StackTraceElement element : stack) {
      if (frames.size() == MAXIMUM_FRAMES) break;
      Map<String, Object> frame = new LinkedHashMap<>();
      frame.put("runtime", "jvm");
      frame.put("class", element.getClassName());
      frame.put("method", element.getMethodName());
      if (element.getFileName() != null) frame.put("file", element.getFileName());
      if (element.getLineNumber() > 0) frame.put("line", element.getLineNumber());
      if (element.isNativeMethod()) frame.put("native", true);
      frames.add(frame);
    }
    return frames;
  }

  String version() {
    return options.version;
  }

  String build() {
    return options.build;
  }

  /** Whether this build reports nothing. */
  public boolean isOff() {
    return off;
  }

  /** Says that the session is over. What waits is sent by a thread of its own, or else at the next launch. */
  public void end() {
    if (off) return;
    try {
      writeItem("session", session("ended"));
      sendInBackground();
    } catch (RuntimeException | Error problem) {
      tell("could not end its session: " + problem);
    }
  }

  /** Waits until what is kept was sent, but no longer than told: for programs that end when their work is done. */
  public void flush(long mostMs) {
    if (off) return;
    try {
      Thread thread = sendInBackground();
      if (thread != null) thread.join(Math.max(1, mostMs));
    } catch (InterruptedException interrupted) {
      Thread.currentThread().interrupt();
    }
  }

  private void keep(Thread thread, Throwable thrown, String kind) {
    try {
      Map<String, Object> where = new LinkedHashMap<>();
      where.put("name", thread.getName());
      where.put("crashed", true);
      Map<String, Object> what = new LinkedHashMap<>();
      what.put("type", thrown.getClass().getName());
      what.put("message", messageOf(thrown));
      what.put("stack", clip(stackOf(thrown), MAXIMUM_STACK_CHARACTERS));
      keep(kind, Collections.singletonList((Object) where), Collections.singletonList((Object) what));
    } catch (RuntimeException | Error problem) {
      // Whatever happens here must not hide the crash itself.
    }
  }

  private void keep(String kind, List<Object> threads, List<Object> exceptions) {
    try {
      Double share = options.sample.get(kind);
      if (share == null || Math.random() < share) {
        Map<String, Object> report = new LinkedHashMap<>();
        String id = uuid();
        report.put("type", "report");
        report.put("id", id);
        report.put("kind", kind);
        report.put("occurredAt", now());
        report.put("sessionId", sessionId);
        if (share != null && share < 1) report.put("samplePercent", 100 * share);
        report.putAll(contextNow());
        report.put("threads", threads);
        report.put("exceptions", exceptions);
        Map<String, Object> state = valuesOf(options.stateAtCrash, "stateAtCrash");
        synchronized (this) {
          report.put("trail", new Raw("[" + String.join(",", trail) + "]"));
          report.put("flags", new LinkedHashMap<>(flags));
          Map<String, Object> all = new LinkedHashMap<>(attributes);
          all.putAll(state);
          report.put("attributes", all);
        }
        writeItem("report", json(report, 0));
        attachViews(id);
      }
      // Whether its report is kept or not, it happened.
      if (kind.equals("crash")) writeItem("session", session("crashed"));
    } catch (RuntimeException | Error problem) {
      // Whatever happens here must not hide the crash itself.
    }
  }

  private void attachViews(String reportId) {
    if (options.viewTree == null) return;
    String views;
    try {
      views = options.viewTree.now();
    } catch (Throwable problem) {
      return;
    }
    if (views == null) return;
    Map<String, Object> item = new LinkedHashMap<>();
    item.put("type", "attachment");
    item.put("id", uuid());
    item.put("reportId", reportId);
    item.put("kind", "view-hierarchy");
    item.put("name", "views.txt");
    item.put("mediaType", "text/plain");
    item.put("data", base64(clip(views, MAXIMUM_VIEWS).getBytes(StandardCharsets.UTF_8)));
    writeItem("views", json(item, 0));
  }

  /** RFC 4648, section 4; the library's own is not on every Android. */
  private static String base64(byte[] bytes) {
    String letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    StringBuilder text = new StringBuilder();
    for (int at = 0; at < bytes.length; at += 3) {
      int left = Math.min(3, bytes.length - at);
      int bits = (bytes[at] & 0xff) << 16 | (left > 1 ? (bytes[at + 1] & 0xff) << 8 : 0) | (left > 2 ? bytes[at + 2] & 0xff : 0);
      for (int part = 0; part < 4; part++) text.append(part > left ? '=' : letters.charAt(bits >> 18 - 6 * part & 63));
    }
    return text.toString();
  }

  /** What the app says; nothing while it is saying it, for what is reported meanwhile, on this thread, would ask again without end. */
  private Map<String, Object> valuesOf(Values values, String name) {
    Map<String, Object> told = new LinkedHashMap<>();
    if (values == null || asksState.get() != null) return told;
    asksState.set(true);
    try {
      Map<String, ?> now = values.now();
      if (now != null) told.putAll(now);
    } catch (Throwable problem) {
      told.put(name, "failed: " + problem.getClass().getName());
    } finally {
      asksState.remove();
    }
    return told;
  }

  private static String stackOf(Throwable thrown) {
    StringWriter stack = new StringWriter();
    try {
      thrown.printStackTrace(new PrintWriter(stack));
    } catch (Throwable problem) {
      // What was printed until then says something, too; the frames are there whatever the exception says of itself.
      for (StackTraceElement frame : thrown.getStackTrace()) stack.append("\tat ").append(frame.toString()).append('\n');
    }
    return stack.toString();
  }

  /** A message is made by the exception's own code, which may fail. */
  private static String messageOf(Throwable thrown) {
    try {
      String message = thrown.getMessage();
      return message == null ? null : clip(message, MAXIMUM_MESSAGE);
    } catch (Throwable problem) {
      return null;
    }
  }

  private String session(String state) {
    return session(state, contextNow());
  }

  private synchronized String session(String state, Map<String, Object> context) {
    Map<String, Object> item = new LinkedHashMap<>();
    item.put("type", "session");
    item.put("id", sessionId);
    item.put("sequence", sequence++);
    item.put("at", now());
    item.put("startedAt", startedAt);
    item.put("state", state);
    // What was spent in the background is nobody's use.
    item.put("durationMs", ((awaySince == 0 ? System.nanoTime() : awaySince) - began) / 1_000_000);
    item.putAll(context);
    item.put("flags", flags);
    item.put("attributes", attributes);
    item.put("screens", screensShown());
    item.put("requests", requestsMade());
    if (tellsTrail()) item.put("trail", new Raw("[" + String.join(",", trail) + "]"));
    return json(item, 0);
  }

  /** Whether the session is one of those that tell their trail: by its id, so that all of its items agree. */
  private boolean tellsTrail() {
    Double share = options.sample.get("trail");
    return Integer.parseInt(sessionId.substring(0, 4), 16) < (share == null ? 0.1 : share) * 0x10000;
  }

  private List<Object> screensShown() {
    List<Object> shown = new ArrayList<>();
    for (Map.Entry<String, Integer> screen : screens.entrySet()) {
      Map<String, Object> one = new LinkedHashMap<>();
      one.put("name", screen.getKey());
      one.put("visits", screen.getValue());
      shown.add(one);
    }
    return shown;
  }

  private List<Object> requestsMade() {
    List<Object> made = new ArrayList<>();
    for (Map.Entry<String, RequestCounts> request : requests.entrySet()) {
      RequestCounts counts = request.getValue();
      List<String> durations = new ArrayList<>();
      for (Map.Entry<Integer, Integer> one : counts.durations.entrySet())
        durations.add("{\"bucket\":" + one.getKey() + ",\"count\":" + one.getValue() + "}");
      made.add(new Raw(request.getKey() + ",\"count\":" + counts.count + ",\"failed\":" + counts.failed
          + ",\"durations\":[" + String.join(",", durations) + "]}"));
    }
    return made;
  }

  /** What the app is asked for is asked while no lock is held, for it may take its time, or call back. */
  private Map<String, Object> contextNow() {
    Map<String, Object> item = new LinkedHashMap<>();
    item.put("version", options.version);
    item.put("build", options.build);
    item.put("buildType", options.buildType);
    Map<String, Object> os = new LinkedHashMap<>();
    os.put("name", options.osName);
    os.put("version", options.osVersion);
    item.put("os", os);
    if (options.deviceModel != null) item.put("device", Collections.singletonMap("model", options.deviceModel));
    item.put("installationId", installationId);
    if (personId != null) item.put("personId", personId);
    if (contact != null) item.put("contact", contact);
    item.putAll(valuesOf(options.circumstances, "circumstances"));
    return item;
  }

  /** One item, one file: complete under its name, or not there. */
  private void writeItem(String kind, String json) {
    String kept = json;
    try {
      if (options.beforeSend != null) kept = options.beforeSend.apply(json);
    } catch (Throwable problem) {
      // What was to take something out must not let it through because it failed.
      kept = null;
    }
    if (kept == null) return;
    if (options.dryRun) tell("would send: " + kept);
    else write(".item", kind, kept.getBytes(StandardCharsets.UTF_8));
  }

  private void write(String ending, String kind, byte[] bytes) {
    synchronized (writing) {
      writeFile(ending, kind, bytes);
    }
  }

  private void writeFile(String ending, String kind, byte[] bytes) {
    File[] waiting = waiting(ending);
    for (int index = 0; index <= waiting.length - MAXIMUM_FILES; index++) waiting[index].delete();
    // Of a name that no other process of the app has, which may be writing at the same moment.
    String name = System.currentTimeMillis() + "-" + uuid() + "-" + kind;
    File half = new File(options.folder, name + ".half");
    try (FileOutputStream out = new FileOutputStream(half)) {
      out.write(bytes);
      out.getFD().sync();
    } catch (IOException problem) {
      half.delete();
      return;
    }
    half.renameTo(new File(options.folder, name + ending));
  }

  private File[] waiting() {
    return waiting(".item");
  }

  private File[] waiting(String ending) {
    File[] files = options.folder.listFiles((folder, name) -> name.endsWith(ending));
    if (files == null) return new File[0];
    Arrays.sort(files);
    return files;
  }

  private Thread sendInBackground() {
    return inBackground(this::send);
  }

  private Thread inBackground(Runnable work) {
    try {
      Thread thread = new Thread(work, "ember-reporter");
      thread.setDaemon(true);
      thread.start();
      return thread;
    } catch (RuntimeException | Error problem) {
      // No thread is to be had: what waits is sent at the next launch.
      return null;
    }
  }

  /** Sends what waits, batch by batch, until nothing waits or the server cannot be reached. */
  private void send() {
    synchronized (sending) {
      try {
        sendFiles();
        sendNativeCrashes();
        int batch = BATCH_FILES;
        for (File[] files = waiting(); files.length > 0; files = waiting()) {
          File[] some = Arrays.copyOf(files, Math.min(batch, files.length));
          int status = sendBatch(some);
          if (status == NOTHING_TO_SEND) continue;
          // Too large together: the largest goes alone, and what is too large alone is given up.
          if (status == 413 && some.length > 1) {
            batch = 1;
            continue;
          }
          if (status != 202 && status != 400 && status != 413) return;
          for (File file : some) if (!file.delete() && file.exists()) return;
        }
      } catch (IOException | RuntimeException | Error problem) {
        // The server is away, or nonsense came back: the files stay.
      }
    }
  }

  private int sendBatch(File[] files) throws IOException {
    List<String> lines = new ArrayList<>();
    for (File file : files) {
      String line = read(file);
      if (line != null) lines.add(line);
    }
    // Another process of the app has sent them meanwhile, or they cannot be read.
    if (lines.isEmpty()) {
      for (File file : files) if (file.exists() && !file.delete()) throw new IOException("cannot delete " + file);
      return NOTHING_TO_SEND;
    }
    return post("/intake/v1/batch", "application/x-ndjson", String.join("\n", lines).getBytes(StandardCharsets.UTF_8));
  }

  /** Sends what the system had written, each with what is known of it beside. */
  private void sendFiles() throws IOException {
    for (File file : waiting(".file")) {
      byte[] bytes = bytesOf(file);
      int end = 0;
      while (bytes != null && end < bytes.length && bytes[end] != '\n') end++;
      if (bytes != null && end < bytes.length) {
        String query = new String(bytes, 0, end, StandardCharsets.UTF_8);
        int status = post("/intake/v1/file?" + query, "application/octet-stream", Arrays.copyOfRange(bytes, end + 1, bytes.length));
        if (status != 202 && status != 400 && status != 413) return;
      }
      if (!file.delete() && file.exists()) return;
    }
  }

  /**
   * Sends the files that the native client wrote into this folder (docs/native-crash.md), of processes that are gone or wrote them to the end;
   * what it had prepared in a process that did not crash is removed.
   */
  private void sendNativeCrashes() throws IOException {
    File[] files = options.folder.listFiles((folder, name) -> name.matches("\\d{1,10}-[0-9a-f-]{36}\\.ember"));
    if (files == null) return;
    for (File file : files) {
      String process = file.getName().substring(0, file.getName().indexOf('-'));
      boolean runs = new File("/proc/" + process).exists();
      byte[] bytes = bytesOf(file);
      String text = bytes == null ? "" : new String(bytes, StandardCharsets.UTF_8);
      boolean isTold = text.startsWith("ember-crash ");
      if (runs && !text.endsWith("\nend\n")) continue;
      int status = isTold ? post("/intake/v1/file", "application/octet-stream", bytes) : 202;
      if (status != 202 && status != 400 && status != 413) return;
      if (!file.delete() && file.exists()) return;
    }
  }

  /** Gives the status of the answer, or NOBODY_OF_OURS. */
  private int post(String path, String type, byte[] body) throws IOException {
    HttpURLConnection connection = (HttpURLConnection) new URL(options.server + path).openConnection();
    try {
      connection.setRequestMethod("POST");
      connection.setConnectTimeout(10_000);
      connection.setReadTimeout(20_000);
      connection.setDoOutput(true);
      connection.setRequestProperty("authorization", "Bearer " + options.key);
      connection.setRequestProperty("content-type", type);
      connection.setRequestProperty("user-agent", "ember-reporter-java/3");
      try (OutputStream out = connection.getOutputStream()) {
        out.write(body);
      }
      int status = connection.getResponseCode();
      String said = beginningOf(status < 400 ? connection.getInputStream() : connection.getErrorStream());
      if (status >= 400 && status < 500 && status != 429) tellRefusal(status, said);
      // Whoever stands between, such as the page on which a hotel asks for a room number, names no items: then nothing was taken.
      return (status == 202 || status == 400) && !said.contains("\"items\"") ? NOBODY_OF_OURS : status;
    } finally {
      connection.disconnect();
    }
  }

  private static String beginningOf(InputStream body) {
    if (body == null) return "";
    try (InputStream in = body) {
      byte[] part = new byte[16_000];
      int filled = 0;
      for (int count = in.read(part); count > 0; count = in.read(part, filled, part.length - filled)) filled += count;
      return new String(part, 0, filled, StandardCharsets.UTF_8);
    } catch (IOException problem) {
      return problem.toString();
    }
  }

  /** Says once why the server refused something: whoever develops the app should see it, and nobody else can mend it. */
  private void tellRefusal(int status, String said) {
    if (toldRefusal) return;
    toldRefusal = true;
    tell("was refused something by its server (status " + status + "): " + said);
  }

  private static String read(File file) {
    byte[] bytes = bytesOf(file);
    return bytes == null ? null : new String(bytes, StandardCharsets.UTF_8);
  }

  /** The bytes of a file; null when it cannot be read. */
  private static byte[] bytesOf(File file) {
    try (InputStream in = new FileInputStream(file)) {
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      byte[] part = new byte[8192];
      for (int count = in.read(part); count >= 0; count = in.read(part)) out.write(part, 0, count);
      return out.toByteArray();
    } catch (IOException problem) {
      return null;
    }
  }

  private String installation() {
    File file = new File(options.folder, "installation");
    String known = read(file);
    if (known != null && known.length() == 36) return known;
    String made = uuid();
    try (FileOutputStream out = new FileOutputStream(file)) {
      out.write(made.getBytes(StandardCharsets.UTF_8));
    } catch (IOException problem) {
      // Every launch counts as an installation of its own then.
    }
    return made;
  }

  private static String now() {
    return timeOf(System.currentTimeMillis());
  }

  /** A random UUID (RFC 9562, section 5.4), from where the system keeps chance: the library's own way takes a tenth of a second the first time. */
  private static String uuid() {
    byte[] bytes = new byte[16];
    try (InputStream chance = new FileInputStream("/dev/urandom")) {
      if (chance.read(bytes) != bytes.length) return UUID.randomUUID().toString();
    } catch (IOException none) {
      return UUID.randomUUID().toString();
    }
    long high = 0;
    long low = 0;
    for (int at = 0; at < 8; at++) {
      high = high << 8 | bytes[at] & 0xff;
      low = low << 8 | bytes[at + 8] & 0xff;
    }
    return new UUID(high & ~0xf000L | 0x4000L, low & 0x3fffffffffffffffL | 0x8000000000000000L).toString();
  }

  /** Milliseconds since 1970 as the protocol writes them. */
  static String timeOf(long ms) {
    // By arithmetic, for a format of the library costs a hundred times as much (days to civil, Hinnant 2014).
    long days = Math.floorDiv(ms, 86_400_000L);
    long ofDay = Math.floorMod(ms, 86_400_000L);
    long shifted = days + 719_468;
    long era = Math.floorDiv(shifted, 146_097L);
    long ofEra = shifted - era * 146_097;
    long yearOfEra = (ofEra - ofEra / 1_460 + ofEra / 36_524 - ofEra / 146_096) / 365;
    long ofYear = ofEra - (365 * yearOfEra + yearOfEra / 4 - yearOfEra / 100);
    long monthFromMarch = (5 * ofYear + 2) / 153;
    long month = monthFromMarch < 10 ? monthFromMarch + 3 : monthFromMarch - 9;
    StringBuilder text = new StringBuilder(24);
    digits(text, yearOfEra + era * 400 + (month <= 2 ? 1 : 0), 4).append('-');
    digits(text, month, 2).append('-');
    digits(text, ofYear - (153 * monthFromMarch + 2) / 5 + 1, 2).append('T');
    digits(text, ofDay / 3_600_000, 2).append(':');
    digits(text, ofDay / 60_000 % 60, 2).append(':');
    digits(text, ofDay / 1_000 % 60, 2).append('.');
    return digits(text, ofDay % 1_000, 3).append('Z').toString();
  }

  private static StringBuilder digits(StringBuilder text, long number, int count) {
    String written = String.valueOf(number);
    for (int at = written.length(); at < count; at++) text.append('0');
    return text.append(written);
  }

  /** A text that is JSON already. */
  private static final class Raw {
    final String text;

    Raw(String text) {
      this.text = text;
    }
  }

  /** A value as JSON (RFC 8259); what is neither of its kinds is told in its own words, and what is too deep is left out. */
  private static String json(Object value, int depth) {
    if (value == null || depth > DEEPEST) return "null";
    if (value instanceof Raw) return ((Raw) value).text;
    if (value instanceof Boolean) return value.toString();
    if (value instanceof Number) {
      double number = ((Number) value).doubleValue();
      return Double.isNaN(number) || Double.isInfinite(number) ? "null" : value.toString();
    }
    List<String> parts = new ArrayList<>();
    if (value instanceof Map) {
      for (Map.Entry<?, ?> one : ((Map<?, ?>) value).entrySet())
        parts.add(quote(String.valueOf(one.getKey())) + ":" + json(one.getValue(), depth + 1));
      return "{" + String.join(",", parts) + "}";
    }
    if (value instanceof Iterable) {
      for (Object one : (Iterable<?>) value) parts.add(json(one, depth + 1));
      return "[" + String.join(",", parts) + "]";
    }
    if (value instanceof Object[]) return json(Arrays.asList((Object[]) value), depth);
    return quote(String.valueOf(value));
  }

  /** A JSON text (RFC 8259, section 7). */
  private static String quote(String text) {
    StringBuilder quoted = new StringBuilder("\"");
    for (int index = 0; index < text.length(); index++) {
      char letter = text.charAt(index);
      if (letter == '"' || letter == '\\') quoted.append('\\').append(letter);
      else if (letter < ' ') quoted.append(letter < 16 ? "\\u000" : "\\u00").append(Integer.toHexString(letter));
      else quoted.append(letter);
    }
    return quoted.append('"').toString();
  }
}
