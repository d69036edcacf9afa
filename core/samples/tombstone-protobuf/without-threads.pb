8Tarn/x2/x2:14/UP1A.231005.007/11223344:user/release-keys0""2026-11-20 10:11:12.123456789+0100(ª¤0Õ¤8úOJcom.larkfield.guideRSIGSEGV"SEGV_MAPERR@z
null pointer dereferenceŠ«€€è¾²€€ô¾²€€ 0:f/data/app/~~9sV3tQ1nB2kXc7yZ0aLmQw==/com.larkfield.guide-Hd8kP0rT5uWx2yZa4bC6eg==/base.apk!libsound.soB(5f1d3c0b9a8e7d6c5b4a39281706f5e4d3c2b1a0H€ ’:
main2
11-20 10:11:11.900ª¤Õ¤ *Sound2window 4096 °€ 