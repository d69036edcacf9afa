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
    reporter = EmberReporter.Install(options);
    reporter.Screen("Map");
    if (what == "crash-slowly") Thread.Sleep(150);
    if (what == "crash" || what == "crash-slowly") throw new InvalidOperationException("no perch");
    if (what == "trail")
      for (var at = 0; at < 10000; at++) reporter.Screen("screen " + at);
    if (what == "many")
      for (var at = 0; at < 100; at++) reporter.Report(new InvalidOperationException("perch " + at));
    else if (what == "long") reporter.Report(new InvalidOperationException(new string('x', 1000000)));
    else if (what != "well") reporter.Report(new InvalidOperationException("no perch"));
    reporter.End();
    reporter.Flush(8000);
  }
}
