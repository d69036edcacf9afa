using System;
using System.Collections.Generic;
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

  static void Main(string[] words)
  {
    var what = words[3];
    var options = new EmberReporter.Options(words[0], words[1], "4.3.0", "430", words[2]) { PersonId = "warden-7" };
    if (what == "debug") options.BuildType = "debug";
    if (what == "state-fails") options.StateAtCrash = Failing;
    if (what == "state-reports") options.StateAtCrash = Reporting;
    if (what == "sampled") options.Sample["error"] = 0.5;
    if (what == "crash-sampled-out") options.Sample["crash"] = 0;
    if (what == "scrubbed") options.BeforeSend = json => json.Contains("secret") ? null : json.Replace("warden-7", "somebody");
    if (what == "scrubbing-fails") options.BeforeSend = json => throw new InvalidOperationException("no scrubbing");
    if (what == "dry") options.DryRun = true;
    if (what == "all") options.Circumstances = () => new Dictionary<string, object> {
      { "device", new Dictionary<string, object> { { "model", "Tarn Go 3" }, { "batteryPercent", 41 } } }, { "network", "wifi" } };
    reporter = EmberReporter.Install(options);
    reporter.Screen("Map");
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
