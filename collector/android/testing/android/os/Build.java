package android.os;

public class Build {
  public static final String MODEL = "Tarn Go 3";
  public static final String MANUFACTURER = "Tarn";
  public static final String HARDWARE = "ranchu";
  public static final String TAGS = "release-keys";

  public static class VERSION {
    public static final String RELEASE = "15";
    public static final int SDK_INT = 35;
  }
}
