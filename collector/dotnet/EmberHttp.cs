using System.Diagnostics;
using System.Net.Http;
using System.Threading;
using System.Threading.Tasks;

/// <summary>
/// Tells <see cref="EmberReporter"/> of the requests of an HttpClient, with host, path template, status and duration, and never a query or a
/// body. A file beside the reporter, for apps that have that client:
/// <code>new HttpClient(new EmberHttp(reporter, new HttpClientHandler()))</code>
/// </summary>
public sealed class EmberHttp : DelegatingHandler
{
  readonly EmberReporter reporter;

  public EmberHttp(EmberReporter reporter, HttpMessageHandler inner) : base(inner) => this.reporter = reporter;

  protected override async Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellation)
  {
    var began = Stopwatch.StartNew();
    var status = 0;
    try
    {
      var response = await base.SendAsync(request, cancellation).ConfigureAwait(false);
      status = (int)response.StatusCode;
      return response;
    }
    finally
    {
      var address = request.RequestUri;
      if (address != null && address.IsAbsoluteUri)
        reporter.Request(request.Method.Method, address.Host, EmberReporter.PathTemplate(address.AbsolutePath), status, began.ElapsedMilliseconds);
    }
  }
}
