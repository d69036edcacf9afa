import java.io.IOException;
import okhttp3.Interceptor;
import okhttp3.Request;
import okhttp3.Response;

/**
 * Tells {@link EmberReporter} of the requests that go through the common HTTP client of Android, with host, path template, status and duration,
 * and never a query or a body. A third file to copy, for apps that have that client:
 *
 * <pre>
 * new OkHttpClient.Builder().addInterceptor(new EmberRequests(reporter))
 * </pre>
 */
public final class EmberRequests implements Interceptor {
  private final EmberReporter reporter;

  public EmberRequests(EmberReporter reporter) {
    this.reporter = reporter;
  }

  @Override public Response intercept(Chain chain) throws IOException {
    Request request = chain.request();
    long began = System.nanoTime();
    int status = 0;
    try {
      Response response = chain.proceed(request);
      status = response.code();
      return response;
    } finally {
      String path = EmberReporter.pathTemplate(request.url().encodedPath());
      reporter.request(request.method(), request.url().host(), path, status, (System.nanoTime() - began) / 1_000_000);
    }
  }
}
