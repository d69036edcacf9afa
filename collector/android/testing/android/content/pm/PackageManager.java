package android.content.pm;

public class PackageManager {
  public static class NameNotFoundException extends Exception {}

  public PackageInfo getPackageInfo(String packageName, int flags) throws NameNotFoundException {
    return new PackageInfo();
  }

  public String getInstallerPackageName(String packageName) { return null; }
}
