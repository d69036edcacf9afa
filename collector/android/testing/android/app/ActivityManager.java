package android.app;

import java.util.ArrayList;
import java.util.List;

public class ActivityManager {
  /** What the system knows, the newest first; a test says it. */
  public static final List<ApplicationExitInfo> known = new ArrayList<>();
  public static byte[] summary;

  public List<ApplicationExitInfo> getHistoricalProcessExitReasons(String packageName, int pid, int maxNum) {
    return known.subList(0, Math.min(maxNum, known.size()));
  }

  public void setProcessStateSummary(byte[] state) {
    summary = state;
  }
}
