package leanladder.resolve;

import org.roaringbitmap.RoaringBitmap;

/** Accounts that have something in common. The set is not to be changed once handed out. */
public record Segment<T>(T what, RoaringBitmap accounts) {}
