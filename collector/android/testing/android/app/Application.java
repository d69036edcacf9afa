package android.app;

import android.content.ComponentCallbacks;
import android.content.Context;
import android.os.Bundle;
import java.util.ArrayList;
import java.util.List;

public class Application extends Context {
  public final List<ActivityLifecycleCallbacks> activities = new ArrayList<>();
  public final List<ComponentCallbacks> components = new ArrayList<>();

  public interface ActivityLifecycleCallbacks {
    void onActivityCreated(Activity activity, Bundle savedInstanceState);
    void onActivityStarted(Activity activity);
    void onActivityResumed(Activity activity);
    void onActivityPaused(Activity activity);
    void onActivityStopped(Activity activity);
    void onActivitySaveInstanceState(Activity activity, Bundle outState);
    void onActivityDestroyed(Activity activity);
  }

  public void registerActivityLifecycleCallbacks(ActivityLifecycleCallbacks callback) {
    activities.add(callback);
  }

  public void registerComponentCallbacks(ComponentCallbacks callback) {
    components.add(callback);
  }
}
