package android.net;

public final class NetworkCapabilities {
  public static final int TRANSPORT_CELLULAR = 0;
  public static final int TRANSPORT_WIFI = 1;
  public static final int TRANSPORT_ETHERNET = 3;

  public boolean hasTransport(int transportType) { return transportType == TRANSPORT_CELLULAR; }
}
