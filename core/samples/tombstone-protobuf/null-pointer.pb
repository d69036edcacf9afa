8Tarn/x2/x2:14/UP1A.231005.007/11223344:user/release-keys0""2026-11-20 10:11:12.123456789+0100(ª¤0Õ¤8úOJcom.larkfield.guideRSIGSEGV"SEGV_MAPERR@z
null pointer dereference‚´ª¤­ª¤field.guide
x0
pc´Åö¾²
sp€€€€€Àÿş"v¸¸(¸¸¤†»"__epoll_pwait(2./apex/com.android.runtime/lib64/bionic/libc.soB(5f1d3c0b9a8e7d6c5b4a39281706f5e4d3c2b1a0‚êÕ¤ãÕ¤SoundWorker
x0
pc´Åö¾²
sp€€€€€Àÿş"á´Å´Å‚†»"<larkfield::Spectrum::peak(float const*, unsigned long) const(T2f/data/app/~~9sV3tQ1nB2kXc7yZ0aLmQw==/com.larkfield.guide-Hd8kP0rT5uWx2yZa4bC6eg==/base.apk!libsound.so8€€B(5f1d3c0b9a8e7d6c5b4a39281706f5e4d3c2b1a0"Íàà‚†»"'Java_com_larkfield_guide_Sound_identify(Ü2f/data/app/~~9sV3tQ1nB2kXc7yZ0aLmQw==/com.larkfield.guide-Hd8kP0rT5uWx2yZa4bC6eg==/base.apk!libsound.so8€€B(5f1d3c0b9a8e7d6c5b4a39281706f5e4d3c2b1a0"x˜¥=˜¥¹†»"__pthread_start(void*)(Ğ2./apex/com.android.runtime/lib64/bionic/libc.soB c0ffee0123456789c0ffee0123456789Š«€€è¾²€€ô¾²€€ 0:f/data/app/~~9sV3tQ1nB2kXc7yZ0aLmQw==/com.larkfield.guide-Hd8kP0rT5uWx2yZa4bC6eg==/base.apk!libsound.soB(5f1d3c0b9a8e7d6c5b4a39281706f5e4d3c2b1a0H€ ’:
main2
11-20 10:11:11.900ª¤Õ¤ *Sound2window 4096 °€ 