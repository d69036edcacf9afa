# What the release build of the guide does: shrink, optimise with inlining, obfuscate, and keep the
# line table under the neutral file name that most release builds use.
-keep public class com.larkfield.guide.Guide {
    public static void main(java.lang.String[]);
}
-keepattributes SourceFile,LineNumberTable
-renamesourcefileattribute SourceFile
-repackageclasses ''
-allowaccessmodification
-overloadaggressively
-optimizationpasses 3
-dontnote
