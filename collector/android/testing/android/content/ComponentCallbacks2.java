package android.content;

public interface ComponentCallbacks2 extends ComponentCallbacks {
  int TRIM_MEMORY_RUNNING_LOW = 10;
  int TRIM_MEMORY_UI_HIDDEN = 20;

  void onTrimMemory(int level);
}
