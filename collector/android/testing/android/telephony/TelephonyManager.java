package android.telephony;

public class TelephonyManager {
  public String getNetworkOperatorName() { return "Skerry and Isles"; }
  public String getNetworkCountryIso() { return "no"; }
}
