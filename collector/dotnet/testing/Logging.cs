// Stand-ins for what EmberLogging.cs uses of Microsoft.Extensions.Logging, with the signatures that are published for it.
using System;

namespace Microsoft.Extensions.Logging
{
  public enum LogLevel { Trace, Debug, Information, Warning, Error, Critical, None }

  public struct EventId
  {
    public EventId(int id, string name = null)
    {
      Id = id;
      Name = name;
    }

    public int Id { get; }
    public string Name { get; }
  }

  public interface ILogger
  {
    void Log<TState>(LogLevel logLevel, EventId eventId, TState state, Exception exception, Func<TState, Exception, string> formatter);
    bool IsEnabled(LogLevel logLevel);
    IDisposable BeginScope<TState>(TState state);
  }

  public interface ILoggerProvider : IDisposable
  {
    ILogger CreateLogger(string categoryName);
  }
}
