using System;
using Microsoft.Extensions.Logging;

/// <summary>
/// Puts what an app logs onto the trail of <see cref="EmberReporter"/>. A file beside the reporter, for apps that log by Microsoft.Extensions.Logging:
/// <code>logging.AddProvider(new EmberLogging(reporter))</code>
/// </summary>
public sealed class EmberLogging : ILoggerProvider
{
  readonly EmberReporter reporter;
  readonly LogLevel least;

  /// <param name="least">what is less than this stays off the trail</param>
  public EmberLogging(EmberReporter reporter, LogLevel least = LogLevel.Information)
  {
    this.reporter = reporter;
    this.least = least;
  }

  public ILogger CreateLogger(string category) => new Logger(this, category);

  public void Dispose() { }

  sealed class Logger : ILogger
  {
    readonly EmberLogging provider;
    readonly string category;

    internal Logger(EmberLogging provider, string category)
    {
      this.provider = provider;
      this.category = category;
    }

    public IDisposable BeginScope<TState>(TState state) => null;

    public bool IsEnabled(LogLevel level) => level >= provider.least && level != LogLevel.None;

    public void Log<TState>(LogLevel level, EventId id, TState state, Exception exception, Func<TState, Exception, string> formatter)
    {
      if (!IsEnabled(level)) return;
      var words = formatter == null ? "" + state : formatter(state, exception);
      provider.reporter.Log(LevelOf(level), category + ": " + words + (exception == null ? "" : " (" + exception.GetType().Name + ")"));
    }

    static string LevelOf(LogLevel level) =>
      level >= LogLevel.Error ? "error" : level == LogLevel.Warning ? "warn" : level == LogLevel.Information ? "info" : "debug";
  }
}
