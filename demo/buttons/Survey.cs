using System;
using System.Threading;
using System.Threading.Tasks;

// The wardens' survey with a button for each way to fail: Survey <server> <key> <folder> <version> <button>.
namespace Larkfield
{
  static class Survey
  {
    static int Count(int[] birds, int at) => birds[at] + 1;

    static int Visit(string hide)
    {
      try { return Count(new int[2], hide.Length); }
      catch (IndexOutOfRangeException gone) { throw new InvalidOperationException("no perch in " + hide, gone); }
    }

    static void Upload() => throw new TimeoutException("the station does not answer");

    static void Main(string[] words)
    {
      var reporter = EmberReporter.Install(new EmberReporter.Options(words[0], words[1], words[3], "1", words[2]) { DeviceModel = "OD-40" });
      reporter.Screen("Hides");
      Press(words[4], reporter);
      reporter.End();
      reporter.Flush(20000);
    }

    static void Press(string button, EmberReporter reporter)
    {
      switch (button)
      {
        case "uncaught":
          Count(new int[2], 7);
          break;
        case "with-cause":
          Visit("the reed hide");
          break;
        case "in-a-thread":
          var thread = new Thread(Upload) { Name = "uploads" };
          thread.Start();
          thread.Join();
          break;
        case "handled":
          try { Task.WaitAll(Task.Run(() => Visit("one")), Task.Run(() => Upload())); }
          catch (AggregateException several) { reporter.Report(several); }
          break;
      }
    }
  }
}
