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
import java.text.SimpleDateFormat;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Date;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TimeZone;
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
    /** Asked at the moment of a crash; gives the app's own state as a JSON object, or null. */
    public StateAtCrash stateAtCrash = null;

    /** @param folder a folder of the app's own; it is made when it does not exist */
    public Options(String server, String key, String version, String build, File folder) {
      this.server = server.replaceAll("/+$", "");
      this.key = key;
      this.version = version;
      this.build = build;
      this.folder = new File(folder, "ember");
    }
  }

  /** The app's own state at the moment of a crash. */
  public interface StateAtCrash {
    /** A JSON object whose values are texts, numbers, booleans, or lists of those. */
    String toJson();
  }

  /** More waiting reports than these and the oldest are given up. */
  private static final int MAXIMUM_FILES = 40;
  private static final int MAXIMUM_STACK_CHARACTERS = 60_000;
  private static final int MAXIMUM_MESSAGE = 16_000;
  private static final int MAXIMUM_NAME = 300;
  private static final int MAXIMUM_TRAIL = 100;
  private static final int MAXIMUM_SCREENS = 200;
  private static final int MAXIMUM_REQUESTS = 100;
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
  private boolean toldRefusal = false;
  private final String sessionId = UUID.randomUUID().toString();
  private final String startedAt = now();
  /** Of a clock that only goes forward, whatever is done to the device's. */
  private final long began = System.nanoTime();
  private final ThreadLocal<Boolean> asksState = new ThreadLocal<>();
  private final Deque<String> trail = new ArrayDeque<>();
  private final Map<String, Integer> screens = new LinkedHashMap<>();
  private final Map<String, RequestCounts> requests = new LinkedHashMap<>();
  private int sequence = 0;

  private EmberReporter(Options options, boolean off) throws IOException {
    this.options = options;
    this.off = off;
    if (!off && !options.folder.isDirectory() && !options.folder.mkdirs()) throw new IOException("no folder " + options.folder);
    this.installationId = off ? UUID.randomUUID().toString() : installation();
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
      reporter.write("session", reporter.session("open"));
      reporter.sendInBackground();
      return reporter;
    } catch (Throwable problem) {
      // An app must run without its reporter.
      return idle(options, problem.toString());
    }
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

  /** Says which screen is shown now. */
  public synchronized void screen(String given) {
    if (off) return;
    String name = clip(given, MAXIMUM_NAME);
    if (name.isEmpty()) return;
    note("{\"kind\":\"screen\",\"at\":" + quote(now()) + ",\"name\":" + quote(name) + "}");
    if (screens.containsKey(name) || screens.size() < MAXIMUM_SCREENS) screens.merge(name, 1, Integer::sum);
  }

  /**
   * Says how a request went.
   *
   * @param givenPath a template such as "/tiles/{zoom}/{x}", never with a query
   * @param status of HTTP; 0 when no answer came
   */
  public synchronized void request(String givenMethod, String givenHost, String givenPath, int status, long givenMs) {
    if (off) return;
    String method = clip(givenMethod, 20);
    String host = clip(givenHost, MAXIMUM_NAME);
    String path = clip(givenPath, 1_000);
    long durationMs = Math.max(0, givenMs);
    note("{\"kind\":\"request\",\"at\":" + quote(now()) + ",\"method\":" + quote(method) + ",\"host\":" + quote(host)
        + ",\"path\":" + quote(path) + ",\"status\":" + (status == 0 ? "null" : status) + ",\"durationMs\":" + durationMs + "}");
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

  /** What the server would refuse must not cost the report it comes with. */
  private static String clip(String text, int characters) {
    return text == null ? "" : text.substring(0, Math.min(text.length(), characters));
  }

  private void note(String event) {
    trail.add(event);
    if (trail.size() > MAXIMUM_TRAIL) trail.remove();
  }

  /** How the requests of one kind went. */
  private static final class RequestCounts {
    int count = 0;
    int failed = 0;
    final Map<Integer, Integer> durations = new TreeMap<>();
  }

  /** For the native client: `ember_native_set("sessionId", …)`, so that what crashes there ends this session. */
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

  /** Something that happened to the app: "foreground", "background", "low-memory". */
  public synchronized void lifecycle(String state) {
    if (!off) note("{\"kind\":\"lifecycle\",\"at\":" + quote(now()) + ",\"state\":" + quote(clip(state, MAXIMUM_NAME)) + "}");
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
      write("session", session("ended"));
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
      String text = stackOf(thrown);
      if (text.length() > MAXIMUM_STACK_CHARACTERS) text = text.substring(0, MAXIMUM_STACK_CHARACTERS);
      String state = stateNow();
      // A text that is no JSON would make the whole report none.
      if (state != null && !new JsonCheck(state).isObject()) state = "{\"stateAtCrash\":" + quote(clip(state, 4_000)) + "}";
      write("report", "{\"type\":\"report\",\"id\":" + quote(UUID.randomUUID().toString())
          + ",\"kind\":" + quote(kind)
          + ",\"occurredAt\":" + quote(now())
          + ",\"sessionId\":" + quote(sessionId)
          + context()
          + ",\"threads\":[{\"name\":" + quote(thread.getName()) + ",\"crashed\":true}]"
          + ",\"exceptions\":[{\"type\":" + quote(thrown.getClass().getName())
          + ",\"message\":" + messageOf(thrown)
          + ",\"stack\":" + quote(text) + "}]"
          + ",\"trail\":" + trail()
          + (state == null ? "" : ",\"attributes\":" + state) + "}");
      if (kind.equals("crash")) write("session", session("crashed"));
    } catch (RuntimeException | Error problem) {
      // Whatever happens here must not hide the crash itself.
    }
  }

  /** What the app says of its state; null when it says nothing, or while it is saying it. */
  private String stateNow() {
    // What is reported meanwhile, on this thread, would ask again without end.
    if (options.stateAtCrash == null || asksState.get() != null) return null;
    asksState.set(true);
    try {
      return options.stateAtCrash.toJson();
    } catch (Throwable problem) {
      return "{\"stateAtCrash\":" + quote("failed: " + problem) + "}";
    } finally {
      asksState.remove();
    }
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
      return message == null ? "null" : quote(clip(message, MAXIMUM_MESSAGE));
    } catch (Throwable problem) {
      return "null";
    }
  }

  private synchronized String session(String state) {
    return "{\"type\":\"session\",\"id\":" + quote(sessionId) + ",\"sequence\":" + sequence++ + ",\"at\":" + quote(now())
        + ",\"startedAt\":" + quote(startedAt) + ",\"state\":" + quote(state)
        + ",\"durationMs\":" + (System.nanoTime() - began) / 1_000_000 + context() + activity() + "}";
  }

  private synchronized String trail() {
    return "[" + String.join(",", trail) + "]";
  }

  private String activity() {
    List<String> shown = new ArrayList<>();
    for (Map.Entry<String, Integer> screen : screens.entrySet())
      shown.add("{\"name\":" + quote(screen.getKey()) + ",\"visits\":" + screen.getValue() + "}");
    List<String> asked = new ArrayList<>();
    for (Map.Entry<String, RequestCounts> request : requests.entrySet()) {
      RequestCounts counts = request.getValue();
      List<String> durations = new ArrayList<>();
      for (Map.Entry<Integer, Integer> one : counts.durations.entrySet())
        durations.add("{\"bucket\":" + one.getKey() + ",\"count\":" + one.getValue() + "}");
      asked.add(request.getKey() + ",\"count\":" + counts.count + ",\"failed\":" + counts.failed
          + ",\"durations\":[" + String.join(",", durations) + "]}");
    }
    return ",\"screens\":[" + String.join(",", shown) + "],\"requests\":[" + String.join(",", asked) + "]";
  }

  private String context() {
    return ",\"version\":" + quote(options.version) + ",\"build\":" + quote(options.build)
        + ",\"buildType\":" + quote(options.buildType)
        + ",\"os\":{\"name\":" + quote(options.osName) + ",\"version\":" + quote(options.osVersion) + "}"
        + (options.deviceModel == null ? "" : ",\"device\":{\"model\":" + quote(options.deviceModel) + "}")
        + ",\"installationId\":" + quote(installationId)
        + (options.personId == null ? "" : ",\"personId\":" + quote(options.personId));
  }

  /** One item, one file: complete under its name, or not there. */
  private void write(String kind, String json) {
    write(".item", kind, json.getBytes(StandardCharsets.UTF_8));
  }

  private synchronized void write(String ending, String kind, byte[] bytes) {
    File[] waiting = waiting(ending);
    for (int index = 0; index <= waiting.length - MAXIMUM_FILES; index++) waiting[index].delete();
    // Of a name that no other process of the app has, which may be writing at the same moment.
    String name = System.currentTimeMillis() + "-" + UUID.randomUUID() + "-" + kind;
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
    try {
      Thread thread = new Thread(this::send, "ember-reporter");
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
      connection.setRequestProperty("user-agent", "ember-reporter-java/2");
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

  /** Whether a text is one JSON object (RFC 8259); it reads, and makes nothing of what it reads. */
  private static final class JsonCheck {
    private static final int DEEPEST = 40;
    private final String text;
    private int at = 0;

    JsonCheck(String text) {
      this.text = text;
    }

    boolean isObject() {
      blanks();
      return at < text.length() && text.charAt(at) == '{' && value(0) && atEnd();
    }

    private boolean atEnd() {
      blanks();
      return at == text.length();
    }

    private void blanks() {
      while (at < text.length() && " \t\r\n".indexOf(text.charAt(at)) >= 0) at++;
    }

    private boolean takes(char letter) {
      blanks();
      if (at >= text.length() || text.charAt(at) != letter) return false;
      at++;
      return true;
    }

    private boolean value(int depth) {
      blanks();
      if (at >= text.length() || depth > DEEPEST) return false;
      char letter = text.charAt(at);
      if (letter == '{') return members(depth);
      if (letter == '[') return elements(depth);
      if (letter == '"') return string();
      int from = at;
      while (at < text.length() && ",]} \t\r\n".indexOf(text.charAt(at)) < 0) at++;
      return text.substring(from, at).matches("true|false|null|-?(0|[1-9]\\d*)(\\.\\d+)?([eE][+-]?\\d+)?");
    }

    private boolean members(int depth) {
      at++;
      if (takes('}')) return true;
      do {
        blanks();
        if (at >= text.length() || text.charAt(at) != '"' || !string() || !takes(':') || !value(depth + 1)) return false;
      } while (takes(','));
      return takes('}');
    }

    private boolean elements(int depth) {
      at++;
      if (takes(']')) return true;
      do {
        if (!value(depth + 1)) return false;
      } while (takes(','));
      return takes(']');
    }

    private boolean string() {
      for (at++; at < text.length(); at++) {
        char letter = text.charAt(at);
        if (letter == '\\') at++;
        else if (letter == '"') {
          at++;
          return true;
        } else if (letter < ' ') return false;
      }
      return false;
    }
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
    String made = UUID.randomUUID().toString();
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

  /** Milliseconds since 1970 as the protocol writes them. */
  static String timeOf(long ms) {
    SimpleDateFormat format = new SimpleDateFormat("yyyy-MM-dd'T'HH:mm:ss.SSS'Z'", Locale.ROOT);
    format.setTimeZone(TimeZone.getTimeZone("UTC"));
    return format.format(new Date(ms));
  }

  /** A JSON text (RFC 8259, section 7). */
  private static String quote(String text) {
    StringBuilder quoted = new StringBuilder("\"");
    for (int index = 0; index < text.length(); index++) {
      char letter = text.charAt(index);
      if (letter == '"' || letter == '\\') quoted.append('\\').append(letter);
      else if (letter < ' ') quoted.append(String.format(Locale.ROOT, "\\u%04x", (int) letter));
      else quoted.append(letter);
    }
    return quoted.append('"').toString();
  }
}
