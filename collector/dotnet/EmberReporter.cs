using System;
using System.Collections.Generic;
using System.Diagnostics;
using System.Globalization;
using System.IO;
using System.Linq;
using System.Net;
using System.Reflection;
using System.Text;
using System.Text.RegularExpressions;
using System.Threading;
using System.Threading.Tasks;

/// <summary>
/// Reports what nobody caught to a Rough Ember server: one file to copy into any program of .NET or Mono, C# 7, no dependencies. A crash is
/// written to a folder of the app at once, and sent when the app is started again.
/// <code>EmberReporter.Install(new EmberReporter.Options("https://ember.example", "intake_…", "4.3.0", "430", folder));</code>
/// </summary>
public sealed class EmberReporter
{
  /// <summary>What the reporter must know. What can be set is set before <see cref="Install"/>.</summary>
  public sealed class Options
  {
    internal readonly string Server, Key, Version, Build, Folder;
    /// <summary>With "debug" nothing is collected unless <see cref="InDebugBuilds"/> is set.</summary>
    public string BuildType = "release";
    public bool InDebugBuilds = false;
    public string OsName = Environment.OSVersion.Platform.ToString();
    public string OsVersion = Environment.OSVersion.Version.ToString();
    public string DeviceModel = null;
    public string PersonId = null;
    /// <summary>Share of each kind ("crash", "error") that is sent, from 0 to 1; all unless told. Sessions are always sent; "trail" is the share
    /// of them that tell what happened in them though nothing went wrong, 0.1 unless told.</summary>
    public readonly Dictionary<string, double> Sample = new Dictionary<string, double>();
    /// <summary>Asked at the moment of a crash; gives the app's own state: texts, numbers, booleans, or lists of those.</summary>
    public Func<IDictionary<string, object>> StateAtCrash = null;
    /// <summary>Asked for each item; gives what the protocol has of the device and its surroundings, such as "device", "network", "locale".</summary>
    public Func<IDictionary<string, object>> Circumstances = null;
    /// <summary>Looks at each item, JSON, before it is kept, and gives it as it is to be kept; null for not at all. One that fails keeps nothing.</summary>
    public Func<string, string> BeforeSend = null;
    /// <summary>Prints what would be sent, and sends nothing.</summary>
    public bool DryRun = false;

    /// <param name="folder">a folder of the app's own; it is made when it does not exist</param>
    public Options(string server, string key, string version, string build, string folder)
    {
      Server = server.TrimEnd('/');
      Key = key;
      Version = version;
      Build = build;
      Folder = Path.Combine(folder, "ember");
    }
  }

  /// <summary>More waiting items than these and the oldest are given up.</summary>
  const int MaximumFiles = 40, BatchFiles = 20, MaximumTrail = 100, MaximumFrames = 500, MaximumExceptions = 20;
  const int MaximumMessage = 16000, MaximumName = 300, MaximumNamed = 100;

  readonly Options options;
  /// <summary>It is off: a debug build, or something went wrong at its start. Every call is taken, and nothing happens.</summary>
  readonly bool isOff;
  /// <summary>Held while something is sent, and never while the app waits.</summary>
  readonly object sending = new object();
  readonly object state = new object();
  readonly string startedAt = Now();
  /// <summary>Of a clock that only goes forward, whatever is done to the device's.</summary>
  readonly Stopwatch began = Stopwatch.StartNew();
  readonly Queue<string> trail = new Queue<string>();
  readonly Dictionary<string, int> screens = new Dictionary<string, int>();
  readonly Dictionary<string, string> flags = new Dictionary<string, string>();
  readonly Dictionary<string, object> attributes = new Dictionary<string, object>();
  readonly Random chance = new Random();
  [ThreadStatic] static bool asksState;
  volatile string personId, contact;
  int sequence;
  bool toldRefusal;

  /// <summary>Of this launch; other clients in the app may tell theirs with it.</summary>
  public string SessionId { get; } = Guid.NewGuid().ToString();
  public string InstallationId { get; }

  EmberReporter(Options options, bool isOff)
  {
    this.options = options;
    this.isOff = isOff;
    personId = options.PersonId;
    if (!isOff) Directory.CreateDirectory(options.Folder);
    InstallationId = isOff ? Guid.NewGuid().ToString() : Installation();
  }

  /// <summary>
  /// Starts reporting; sends what the last launch left on a thread of its own. Gives a reporter that does nothing when this build is not to
  /// report, and when it cannot.
  /// </summary>
  public static EmberReporter Install(Options options)
  {
    if (options.BuildType == "debug" && !options.InDebugBuilds) return Idle(options, "debug builds are not reported");
    try
    {
      var reporter = new EmberReporter(options, false);
      AppDomain.CurrentDomain.UnhandledException += (_, happened) => reporter.Keep(happened.ExceptionObject as Exception, "crash");
      // It goes on after these, so they are no crash.
      TaskScheduler.UnobservedTaskException += (_, happened) => reporter.Keep(happened.Exception, "error");
      reporter.InBackground(() =>
      {
        reporter.TellStart();
        reporter.Send();
      });
      return reporter;
    }
    catch (Exception problem)
    {
      // An app must run without its reporter.
      return Idle(options, problem.Message);
    }
  }

  /// <summary>Tells of the session, unless it has crashed until now.</summary>
  void TellStart()
  {
    string start;
    lock (state) start = sequence == 0 ? Session("open") : null;
    if (start != null) Write("session", start);
  }

  static EmberReporter Idle(Options options, string why)
  {
    Tell("is off: " + why);
    return new EmberReporter(options, true);
  }

  /// <summary>What its developer should know.</summary>
  static void Tell(string words) => Console.Error.WriteLine("Rough Ember " + words);

  /// <summary>Reports an error that the app handled, and goes on.</summary>
  public void Report(Exception thrown)
  {
    if (isOff || thrown == null) return;
    Keep(thrown, "error");
    SendInBackground();
  }

  /// <summary>Says which screen is shown now.</summary>
  public void Screen(string name)
  {
    if (isOff || string.IsNullOrEmpty(name)) return;
    name = Clip(name, MaximumName);
    Note("screen", "name", name);
    lock (state)
      if (screens.ContainsKey(name) || screens.Count < MaximumNamed) screens[name] = (screens.TryGetValue(name, out var visits) ? visits : 0) + 1;
  }

  /// <summary>Says how a request went.</summary>
  /// <param name="path">a template such as "/tiles/{zoom}/{x}", never with a query</param>
  /// <param name="status">of HTTP; 0 when no answer came</param>
  public void Request(string method, string host, string path, int status, long durationMs)
  {
    if (isOff) return;
    Note("request", "method", Clip(method, 20), "host", Clip(host, MaximumName), "path", Clip(path, 1000), "status",
      status == 0 ? null : (object)status, "durationMs", Math.Max(0, durationMs));
  }

  /// <summary>A path as a template: numbers and ids stand for themselves, and a query is never kept.</summary>
  internal static string PathTemplate(string path) =>
    string.Join("/", path.Split('?', '#')[0].Split('/').Select(part =>
      part.Length > 0 && part.All(letter => letter >= '0' && letter <= '9') ? "{number}"
        : Regex.IsMatch(part, "^[0-9a-fA-F]{8}-?[0-9a-fA-F-]{8,}$") ? "{id}" : part));

  /// <summary>A line of the app's log; level is debug, info, warn or error.</summary>
  public void Log(string level, string message)
  {
    if (!isOff) Note("log", "level", level, "message", Clip(message, 2000));
  }

  /// <summary>A feature flag or experiment, with the variant that it has from now on.</summary>
  public void Flag(string name, string variant)
  {
    if (isOff || name == null) return;
    lock (state)
      if (flags.ContainsKey(name) || flags.Count < MaximumNamed) flags[Clip(name, 200)] = Clip(variant, 200);
    Note("flag", "name", Clip(name, 200), "variant", Clip(variant, 200));
  }

  /// <summary>A value that reports and the session are told with: a text, number, boolean, or a list of those; null takes it back.</summary>
  public void Attribute(string name, object value)
  {
    if (isOff || name == null) return;
    lock (state)
      if (value == null) attributes.Remove(name);
      else if (attributes.ContainsKey(name) || attributes.Count < MaximumNamed) attributes[Clip(name, 200)] = value;
  }

  /// <summary>Who uses the app from now on, by the id that the app knows them by; null for nobody it knows.</summary>
  public void Person(string id) => personId = id;

  /// <summary>How the person can be reached, if they left it.</summary>
  public void Contact(string how) => contact = how == null ? null : Clip(how, MaximumName);

  /// <summary>Something of the app's own, with values or without.</summary>
  public void Custom(string name, IDictionary<string, object> values = null)
  {
    if (!isOff && !string.IsNullOrEmpty(name)) Note("custom", "name", Clip(name, MaximumName), "attributes", new Json.Raw(Json.Map(values ?? new Dictionary<string, object>())));
  }

  /// <summary>Something that happened to the app: "foreground", "background", "low-memory". In the background it may be ended without a word.</summary>
  public void Lifecycle(string state)
  {
    if (isOff || string.IsNullOrEmpty(state)) return;
    Note("lifecycle", "state", Clip(state, MaximumName));
    if (state == "background") Write("session", Session("open"));
  }

  /// <summary>Says that the session is over. What waits is sent by a thread of its own, or else at the next launch.</summary>
  public void End()
  {
    if (isOff) return;
    Write("session", Session("ended"));
    SendInBackground();
  }

  /// <summary>Waits until what is kept was sent, but no longer than told: for programs that end when their work is done.</summary>
  public void Flush(int mostMs) => SendInBackground()?.Join(Math.Max(1, mostMs));

  void Note(string kind, params object[] rest)
  {
    var item = Json.Object(new object[] { "kind", kind, "at", Now() }.Concat(rest).ToArray());
    lock (state)
    {
      trail.Enqueue(item);
      if (trail.Count > MaximumTrail) trail.Dequeue();
    }
  }

  void Keep(Exception thrown, string kind)
  {
    if (thrown == null) return;
    try
    {
      var kept = true;
      var told = new Dictionary<string, object>();
      var isSampled = options.Sample.TryGetValue(kind, out var share) && share < 1;
      if (isSampled)
        lock (chance)
          if (chance.NextDouble() >= share) kept = false;
      lock (state) foreach (var one in attributes) told[one.Key] = one.Value;
      foreach (var one in ValuesOf(options.StateAtCrash, "stateAtCrash")) told[one.Key] = one.Value;
      string events;
      lock (state) events = "[" + string.Join(",", trail) + "]";
      if (kept) Write("report", Json.Object(
        new object[] { "type", "report", "id", Guid.NewGuid().ToString(), "kind", kind, "occurredAt", Now(), "sessionId", SessionId,
            "samplePercent", isSampled ? (object)(100 * share) : null }
          .Concat(Context())
          .Concat(new object[] {
            "threads", new Json.Raw(Json.List(new[] { Json.Object("name", Thread.CurrentThread.Name ?? "Thread " + Thread.CurrentThread.ManagedThreadId, "crashed", true) })),
            "exceptions", new Json.Raw(Exceptions(thrown)), "trail", new Json.Raw(events), "flags", new Json.Raw(Json.Map(flags)),
            "attributes", new Json.Raw(Json.Map(told)) })
          .ToArray()));
      // Whether its report is kept or not, it happened.
      if (kind == "crash") Write("session", Session("crashed"));
    }
    catch (Exception)
    {
      // Whatever happens here must not hide the crash itself.
    }
  }

  /// <summary>What the app says; nothing while it is saying it, so that what it throws meanwhile does not ask again.</summary>
  static IDictionary<string, object> ValuesOf(Func<IDictionary<string, object>> values, string name)
  {
    var nothing = new Dictionary<string, object>();
    if (values == null || asksState) return nothing;
    asksState = true;
    try { return values() ?? nothing; }
    catch (Exception problem) { return new Dictionary<string, object> { { name, "failed: " + problem.GetType() } }; }
    finally { asksState = false; }
  }

  /// <summary>The exception, then what caused it; of an aggregate the members beyond the first stand beside it.</summary>
  static string Exceptions(Exception thrown)
  {
    var items = new List<string>();
    AddException(items, new HashSet<Exception>(), thrown, "thrown", null);
    return Json.List(items);
  }

  static void AddException(List<string> items, HashSet<Exception> seen, Exception one, string relation, object parent)
  {
    if (one == null || items.Count >= MaximumExceptions || !seen.Add(one)) return;
    var index = items.Count;
    items.Add(Json.Object("type", one.GetType().FullName, "message", MessageOf(one), "relation", relation, "parent", parent,
      "frames", new Json.Raw(Json.List(Frames(one)))));
    AddException(items, seen, one.InnerException, "cause", index);
    if (one is AggregateException several)
      foreach (var other in several.InnerExceptions.Skip(1)) AddException(items, seen, other, "suppressed", index);
  }

  /// <summary>A message is made by the exception's own code, which may fail.</summary>
  static string MessageOf(Exception one)
  {
    try { return Clip(one.Message, MaximumMessage); }
    catch (Exception) { return null; }
  }

  /// <summary>Frames by the token of the method, its offset and the version of its module, which symbol files are found by.</summary>
  static IEnumerable<string> Frames(Exception one)
  {
    var frames = new StackTrace(one, true).GetFrames() ?? new StackFrame[0];
    foreach (var frame in frames.Take(MaximumFrames))
    {
      var method = frame.GetMethod();
      if (method == null) continue;
      var type = method.DeclaringType?.FullName?.Replace('+', '.');
      var parameters = string.Join(", ", method.GetParameters().Select(parameter => parameter.ParameterType.Name + " " + parameter.Name));
      yield return Json.Object("runtime", "dotnet", "method", (type == null ? "" : type + ".") + method.Name, "parameters", parameters,
        "file", frame.GetFileName(), "line", frame.GetFileLineNumber() > 0 ? (object)frame.GetFileLineNumber() : null,
        "ilOffset", frame.GetILOffset() >= 0 ? (object)frame.GetILOffset() : null, "token", "0x" + method.MetadataToken.ToString("x"),
        "module", method.Module.ModuleVersionId.ToString("N"));
    }
  }

  string Session(string how)
  {
    lock (state)
      return Json.Object(
        new object[] { "type", "session", "id", SessionId, "sequence", sequence++, "at", Now(), "startedAt", startedAt, "state", how, "durationMs",
            began.ElapsedMilliseconds }
          .Concat(Context())
          .Concat(new object[] {
            "flags", new Json.Raw(Json.Map(flags)), "attributes", new Json.Raw(Json.Map(attributes)),
            "screens", new Json.Raw(Json.List(screens.Select(one => Json.Object("name", one.Key, "visits", one.Value)))) })
          .Concat(TellsTrail() ? new object[] { "trail", new Json.Raw("[" + string.Join(",", trail) + "]") } : new object[0])
          .ToArray());
  }

  /// <summary>Whether the session is one of those that tell their trail: by its id, so that all of its items agree.</summary>
  bool TellsTrail() =>
    Convert.ToInt32(SessionId.Substring(0, 4), 16) < (options.Sample.TryGetValue("trail", out var share) ? share : 0.1) * 0x10000;

  object[] Context() => new object[] {
    "version", options.Version, "build", options.Build, "buildType", options.BuildType,
    "os", new Json.Raw(Json.Object("name", options.OsName, "version", options.OsVersion)),
    "device", options.DeviceModel == null || options.Circumstances != null ? null : new Json.Raw(Json.Object("model", options.DeviceModel)),
    "installationId", InstallationId, "personId", personId, "contact", contact }
    .Concat(ValuesOf(options.Circumstances, "circumstances").SelectMany(one => new object[] { one.Key, one.Value })).ToArray();

  /// <summary>One item, one file: complete under its name, or not there.</summary>
  void Write(string kind, string json)
  {
    if (options.BeforeSend != null)
      // What was to take something out must not let it through because it failed.
      try { json = options.BeforeSend(json); }
      catch (Exception) { json = null; }
    if (json == null) return;
    if (options.DryRun)
    {
      Tell("would send: " + json);
      return;
    }
    try
    {
      var waiting = Waiting();
      foreach (var file in waiting.Take(Math.Max(0, waiting.Length - MaximumFiles + 1))) File.Delete(file);
      // Of a name that no other process of the app has, which may be writing at the same moment.
      var name = Path.Combine(options.Folder, DateTime.UtcNow.Ticks + "-" + Guid.NewGuid() + "-" + kind);
      using (var file = new FileStream(name + ".half", FileMode.CreateNew))
      {
        var bytes = Encoding.UTF8.GetBytes(json);
        file.Write(bytes, 0, bytes.Length);
        file.Flush(true);
      }
      File.Move(name + ".half", name + ".item");
    }
    catch (Exception problem) when (problem is IOException || problem is UnauthorizedAccessException)
    {
      // A full disk costs this item.
    }
  }

  string[] Waiting()
  {
    try { return Directory.GetFiles(options.Folder, "*.item").OrderBy(one => one, StringComparer.Ordinal).ToArray(); }
    catch (IOException) { return new string[0]; }
  }

  Thread SendInBackground() => InBackground(Send);

  Thread InBackground(Action work)
  {
    if (isOff) return null;
    var thread = new Thread(() => work()) { IsBackground = true, Name = "ember-reporter" };
    thread.Start();
    return thread;
  }

  /// <summary>Sends what waits, batch by batch, until nothing waits or the server cannot be reached.</summary>
  void Send()
  {
    lock (sending)
      try
      {
        var batch = BatchFiles;
        for (var files = Waiting(); files.Length > 0; files = Waiting())
        {
          var some = files.Take(batch).ToArray();
          var status = Post(string.Join("\n", some.Select(File.ReadAllText)));
          // Too large together: the first goes alone, and what is too large alone is given up.
          if (status == 413 && some.Length > 1)
          {
            batch = 1;
            continue;
          }
          if (status != 202 && status != 400 && status != 413) return;
          foreach (var file in some) File.Delete(file);
        }
      }
      catch (Exception)
      {
        // The server is away, or another process has sent them meanwhile: what is there stays.
      }
  }

  /// <summary>Gives the status of the answer; 0 where whoever answers is no server of ours, such as the page of a hotel.</summary>
  int Post(string body)
  {
#pragma warning disable SYSLIB0014 // The older way is there in every runtime.
    var request = (HttpWebRequest)WebRequest.Create(options.Server + "/intake/v1/batch");
#pragma warning restore SYSLIB0014
    request.Method = "POST";
    request.Timeout = request.ReadWriteTimeout = 20000;
    request.ContentType = "application/x-ndjson";
    request.UserAgent = "ember-reporter-dotnet/1";
    request.Headers["authorization"] = "Bearer " + options.Key;
    var bytes = Encoding.UTF8.GetBytes(body);
    using (var sent = request.GetRequestStream()) sent.Write(bytes, 0, bytes.Length);
    HttpWebResponse answer;
    try { answer = (HttpWebResponse)request.GetResponse(); }
    catch (WebException refused) when (refused.Response is HttpWebResponse) { answer = (HttpWebResponse)refused.Response; }
    using (answer)
    using (var reader = new StreamReader(answer.GetResponseStream()))
    {
      var part = new char[16000];
      var said = new string(part, 0, reader.ReadBlock(part, 0, part.Length));
      var status = (int)answer.StatusCode;
      if (status >= 400 && status < 500 && status != 429) TellRefusal(status, said);
      return (status == 202 || status == 400) && !said.Contains("\"items\"") ? 0 : status;
    }
  }

  /// <summary>Says once why the server refused something: whoever develops the app should see it, and nobody else can mend it.</summary>
  void TellRefusal(int status, string said)
  {
    if (toldRefusal) return;
    toldRefusal = true;
    Tell("was refused something by its server (status " + status + "): " + said);
  }

  string Installation()
  {
    var file = Path.Combine(options.Folder, "installation");
    try
    {
      if (File.Exists(file) && Guid.TryParse(File.ReadAllText(file), out var known)) return known.ToString();
      var made = Guid.NewGuid().ToString();
      File.WriteAllText(file, made);
      return made;
    }
    catch (IOException)
    {
      // Every launch counts as an installation of its own then.
      return Guid.NewGuid().ToString();
    }
  }

  static string Clip(string text, int characters) => text == null ? "" : text.Substring(0, Math.Min(text.Length, characters));

  static string Now() => DateTime.UtcNow.ToString("yyyy-MM-dd'T'HH:mm:ss.fff'Z'", CultureInfo.InvariantCulture);

  /// <summary>Writes JSON (RFC 8259).</summary>
  static class Json
  {
    const int Deepest = 8;

    /// <summary>A text that is JSON already.</summary>
    internal sealed class Raw
    {
      internal readonly string Text;
      internal Raw(string text) => Text = text;
    }

    /// <summary>An object of names and values by turns; what is null is left out.</summary>
    internal static string Object(params object[] pairs)
    {
      var members = new List<string>();
      for (var at = 0; at < pairs.Length; at += 2)
        if (pairs[at + 1] != null) members.Add(Quote((string)pairs[at]) + ":" + Value(pairs[at + 1], 0));
      return "{" + string.Join(",", members) + "}";
    }

    internal static string List(IEnumerable<string> items) => "[" + string.Join(",", items) + "]";

    internal static string Map<T>(IEnumerable<KeyValuePair<string, T>> values) =>
      "{" + string.Join(",", values.Select(one => Quote(one.Key) + ":" + Value(one.Value, 0))) + "}";

    static string Value(object value, int depth)
    {
      if (value == null) return "null";
      if (value is Raw raw) return raw.Text;
      if (value is string text) return Quote(text);
      if (value is bool) return (bool)value ? "true" : "false";
      if (value is double || value is float)
      {
        var number = Convert.ToDouble(value, CultureInfo.InvariantCulture);
        return double.IsNaN(number) || double.IsInfinity(number) ? "null" : number.ToString("R", CultureInfo.InvariantCulture);
      }
      if (value is IFormattable plain && (value.GetType().IsPrimitive || value is decimal)) return plain.ToString(null, CultureInfo.InvariantCulture);
      if (value is IDictionary<string, object> map && depth < Deepest)
        return "{" + string.Join(",", map.Select(one => Quote(one.Key) + ":" + Value(one.Value, depth + 1))) + "}";
      if (value is System.Collections.IEnumerable list && depth < Deepest)
        return List(list.Cast<object>().Take(100).Select(one => Value(one, depth + 1)));
      return Quote(value.ToString());
    }

    static string Quote(string text)
    {
      var quoted = new StringBuilder("\"");
      foreach (var letter in text)
        if (letter == '"' || letter == '\\') quoted.Append('\\').Append(letter);
        else if (letter < ' ' || char.IsSurrogate(letter)) quoted.Append("\\u").Append(((int)letter).ToString("x4"));
        else quoted.Append(letter);
      return quoted.Append('"').ToString();
    }
  }
}
