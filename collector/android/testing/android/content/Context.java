package android.content;

import android.app.ActivityManager;
import android.content.pm.ApplicationInfo;
import android.content.pm.PackageManager;
import android.content.res.Resources;
import android.net.ConnectivityManager;
import android.os.BatteryManager;
import android.telephony.TelephonyManager;
import java.io.File;

public abstract class Context {
  public static final String ACTIVITY_SERVICE = "activity";
  public static final String BATTERY_SERVICE = "batterymanager";
  public static final String CONNECTIVITY_SERVICE = "connectivity";
  public static final String TELEPHONY_SERVICE = "phone";
  public static File filesDir;
  /** Whether the app has the permission to look at networks; a test says it. */
  public static boolean mayLookAtNetworks = true;

  public Object getSystemService(String name) {
    switch (name) {
      case BATTERY_SERVICE: return new BatteryManager();
      case TELEPHONY_SERVICE: return new TelephonyManager();
      case CONNECTIVITY_SERVICE:
        if (!mayLookAtNetworks) throw new SecurityException("no permission to look at networks");
        return new ConnectivityManager();
      default: return new ActivityManager();
    }
  }

  public PackageManager getPackageManager() { return new PackageManager(); }
  public String getPackageName() { return "com.larkfield.guide"; }
  public File getFilesDir() { return filesDir; }
  public ApplicationInfo getApplicationInfo() { return new ApplicationInfo(); }
  public Resources getResources() { return new Resources(); }
}
