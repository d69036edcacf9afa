using System;
using System.Collections.Generic;
using System.Diagnostics;
using System.Threading;

// Does what a situation asks of an app: Situations <server> <key> <folder> <what>.
static class Situations
{
  static EmberReporter reporter;

  static IDictionary<string, object> Failing() { throw new InvalidOperationException("no state"); }

  static IDictionary<string, object> Reporting()
  {
    reporter.Report(new InvalidOperationException("within the state"));
    return new Dictionary<string, object> { { "zoom", 14 } };
  }

  static void TellCost(double startMs, long heapBefore)
  {
    const int calls = 2000;
    var clock = Stopwatch.StartNew();
    for (var at = 0; at < calls; at++) reporter.Screen("screen " + at % 20);
    var screenUs = clock.Elapsed.TotalMilliseconds * 1000 / calls;
    clock.Restart();
    reporter.Report(new InvalidOperationException("no perch"));
    var reportMs = clock.Elapsed.TotalMilliseconds;
    Console.WriteLine(FormattableString.Invariant(
      $"{{\"startMs\":{startMs:F3},\"screenUs\":{screenUs:F3},\"reportMs\":{reportMs:F3},\"bytes\":{GC.GetTotalMemory(true) - heapBefore}}}"));
  }

  static void Main(string[] words)
  {
    var what = words[3];
    if (what == "bare") return;
    var heapBefore = what == "cost" ? GC.GetTotalMemory(true) : 0;
    var began = Stopwatch.StartNew();
    var options = new EmberReporter.Options(words[0], words[1], "4.3.0", "430", words[2]) { PersonId = "warden-7" };
    if (what == "debug") options.BuildType = "debug";
    if (what == "state-fails") options.StateAtCrash = Failing;
    if (what == "state-reports") options.StateAtCrash = Reporting;
    if (what == "sampled") options.Sample["error"] = 0.5;
    if (what == "told-trail") options.Sample["trail"] = 1;
    if (what == "untold-trail") options.Sample["trail"] = 0;
    if (what == "crash-sampled-out") options.Sample["crash"] = 0;
    if (what == "scrubbed") options.BeforeSend = json => json.Contains("secret") ? null : json.Replace("warden-7", "somebody");
    if (what == "scrubbing-fails") options.BeforeSend = json => throw new InvalidOperationException("no scrubbing");
    if (what == "dry") options.DryRun = true;
    if (what == "all") options.Circumstances = () => new Dictionary<string, object> {
      { "device", new Dictionary<string, object> { { "model", "Tarn Go 3" }, { "batteryPercent", 41 } } }, { "network", "wifi" } };
    reporter = EmberReporter.Install(options);
    var startMs = began.Elapsed.TotalMilliseconds;
    reporter.Screen("Map");
    if (what == "cost")
    {
      TellCost(startMs, heapBefore);
      Environment.Exit(0);
    }
    if (what == "all")
    {
      reporter.Person("warden-9");
      reporter.Contact("warden@larkfield.example");
      reporter.Flag("night-map", "on");
      reporter.Attribute("layers", new[] { "night", "tracks" });
      reporter.Attribute("zoom", 14);
      reporter.Log("warn", "few tiles");
      reporter.Custom("export", new Dictionary<string, object> { { "rows", 12 } });
      reporter.Request("GET", "tiles.larkfield.example", "/t/{z}", 503, 120);
      reporter.Lifecycle("low-memory");
    }
    if (what == "crash-slowly") Thread.Sleep(150);
    if (what.StartsWith("crash")) throw new InvalidOperationException("no perch");
    if (what == "trail")
      for (var at = 0; at < 10000; at++) reporter.Screen("screen " + at);
    if (what == "many")
      for (var at = 0; at < 100; at++) reporter.Report(new InvalidOperationException("perch " + at));
    else if (what == "sampled")
      for (var at = 0; at < 40; at++) reporter.Report(new InvalidOperationException("perch " + at));
    else if (what == "long") reporter.Report(new InvalidOperationException(new string('x', 1000000)));
    else if (what != "well") reporter.Report(new InvalidOperationException("no perch"));
    if (what == "scrubbed") reporter.Report(new InvalidOperationException("secret"));
    reporter.End();
    reporter.Flush(8000);
  }
}
