package android.content.pm;

public class PackageInfo {
  public String versionName = "4.3.0";
  public int versionCode = 430;
}
