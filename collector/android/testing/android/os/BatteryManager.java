package android.os;

public class BatteryManager {
  public static final int BATTERY_PROPERTY_CAPACITY = 4;

  public int getIntProperty(int id) { return 41; }
  public boolean isCharging() { return false; }
}
