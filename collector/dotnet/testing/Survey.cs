// A program that crashes, or handles an error, as its last word says: Survey <server> <key> <folder> <crash|error|well>.
using System;
using System.Collections.Generic;
using System.Linq;
using System.Threading.Tasks;

namespace Larkfield
{
  static class Survey
  {
    internal static int Count(int[] birds, int at) => birds[at] + 1;

    internal static int Visit(string hide)
    {
      try { return Count(new int[2], hide.Length); }
      catch (IndexOutOfRangeException gone) { throw new InvalidOperationException("no perch in " + hide, gone); }
    }

    static void Main(string[] words)
    {
      var reporter = EmberReporter.Install(new EmberReporter.Options(words[0], words[1], "4.3.4", "434", words[2]) {
        DeviceModel = "OD-40",
        PersonId = "warden-11",
        StateAtCrash = () => new Dictionary<string, object> { { "zoom", 14 }, { "layers", new[] { "night", "tracks" } }, { "quiet", true } },
      });
      reporter.Screen("Map");
      reporter.Request("GET", "tiles.larkfield.example", "/t/{z}", 504, 812);
      reporter.Flag("night-map", "on");
      if (words[3] == "crash") Visit("the reed hide");
      if (words[3] == "error")
        try { Task.WaitAll(Task.Run(() => Visit("one")), Task.Run(() => { throw new ArgumentException("two"); })); }
        catch (AggregateException several) { reporter.Report(several); }
      reporter.End();
      reporter.Flush(20000);
    }
  }
}
