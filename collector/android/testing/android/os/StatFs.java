package android.os;

public class StatFs {
  public StatFs(String path) {}
  public long getTotalBytes() { return 64_000_000_000L; }
  public long getAvailableBytes() { return 2_000_000_000L; }
}
