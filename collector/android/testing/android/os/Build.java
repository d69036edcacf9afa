package android.os;

public class Build {
  public static final String MODEL = "Tarn Go 3";

  public static class VERSION {
    public static final String RELEASE = "15";
    public static final int SDK_INT = 35;
  }
}
