package android.content.pm;

public class ApplicationInfo {
  public static final int FLAG_DEBUGGABLE = 2;

  public int flags = 0;
}
