package android.content;

import android.app.ActivityManager;
import android.content.pm.ApplicationInfo;
import android.content.pm.PackageManager;
import java.io.File;

public abstract class Context {
  public static final String ACTIVITY_SERVICE = "activity";
  public static File filesDir;

  public Object getSystemService(String name) { return new ActivityManager(); }
  public PackageManager getPackageManager() { return new PackageManager(); }
  public String getPackageName() { return "com.larkfield.guide"; }
  public File getFilesDir() { return filesDir; }
  public ApplicationInfo getApplicationInfo() { return new ApplicationInfo(); }
}
