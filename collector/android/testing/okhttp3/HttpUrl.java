package okhttp3;

public final class HttpUrl {
  private final java.net.URI address;

  public HttpUrl(String address) { this.address = java.net.URI.create(address); }
  public String host() { return address.getHost(); }
  public String encodedPath() { return address.getRawPath(); }
}
