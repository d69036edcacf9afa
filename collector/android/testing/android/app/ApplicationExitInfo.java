package android.app;

import java.io.ByteArrayInputStream;
import java.io.InputStream;

public final class ApplicationExitInfo {
  public static final int REASON_LOW_MEMORY = 3;
  public static final int REASON_CRASH = 4;
  public static final int REASON_CRASH_NATIVE = 5;
  public static final int REASON_ANR = 6;
  public static final int REASON_INITIALIZATION_FAILURE = 7;
  public static final int REASON_EXCESSIVE_RESOURCE_USAGE = 9;
  public static final int REASON_USER_REQUESTED = 10;

  private final int pid;
  private final int reason;
  private final long timestamp;
  private final byte[] trace;
  private final byte[] summary;

  public ApplicationExitInfo(int pid, int reason, long timestamp, byte[] trace, byte[] summary) {
    this.pid = pid;
    this.reason = reason;
    this.timestamp = timestamp;
    this.trace = trace;
    this.summary = summary;
  }

  public int getPid() { return pid; }
  public String getProcessName() { return "com.larkfield.guide"; }
  public int getReason() { return reason; }
  public long getTimestamp() { return timestamp; }
  public byte[] getProcessStateSummary() { return summary; }
  public InputStream getTraceInputStream() { return trace == null ? null : new ByteArrayInputStream(trace); }

  @Override public String toString() {
    return "ApplicationExitInfo(timestamp=11/20/26, 10:11 AM pid=" + pid + " realUid=10123 packageUid=10123 definingUid=10123 user=0"
        + " process=com.larkfield.guide reason=" + reason + " (LOW_MEMORY) subreason=0 (UNKNOWN) status=0 importance=400 pss=0.00 rss=310MB"
        + " description=null state=empty trace=null)";
  }
}
