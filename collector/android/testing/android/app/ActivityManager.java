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

  public static class MemoryInfo {
    public long totalMem;
    public long availMem;
  }

  public void getMemoryInfo(MemoryInfo info) {
    info.totalMem = 2_147_483_648L;
    info.availMem = 104_857_600L;
  }

  public void setProcessStateSummary(byte[] state) {
    summary = state;
  }
}
