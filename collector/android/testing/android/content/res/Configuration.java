package android.content.res;

public class Configuration {
  public static final int ORIENTATION_PORTRAIT = 1;
  public static final int ORIENTATION_LANDSCAPE = 2;

  public int orientation = ORIENTATION_LANDSCAPE;
}
