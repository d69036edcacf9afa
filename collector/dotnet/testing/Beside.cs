// What stands beside the reporter for .NET: Beside <server> <key> <folder>. Logs, asks its server for a tile, and reports an error.
using System;
using System.Net.Http;
using Microsoft.Extensions.Logging;

static class Beside
{
  static void Main(string[] words)
  {
    var reporter = EmberReporter.Install(new EmberReporter.Options(words[0], words[1], "4.3.0", "430", words[2]));
    var logger = new EmberLogging(reporter).CreateLogger("Tiles");
    logger.Log(LogLevel.Debug, default(EventId), "of no interest", null, (state, thrown) => state);
    logger.Log(LogLevel.Warning, default(EventId), "few tiles", new TimeoutException(), (state, thrown) => state);
    using (var client = new HttpClient(new EmberHttp(reporter, new HttpClientHandler())))
      client.GetAsync(words[0] + "/t/14/8817.png?user=7").GetAwaiter().GetResult().Dispose();
    reporter.Report(new InvalidOperationException("no perch"));
    reporter.End();
    reporter.Flush(20000);
  }
}
