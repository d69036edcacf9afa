package okhttp3;

public final class Request {
  private final String method;
  private final HttpUrl url;

  public Request(String method, HttpUrl url) {
    this.method = method;
    this.url = url;
  }

  public String method() { return method; }
  public HttpUrl url() { return url; }
}
