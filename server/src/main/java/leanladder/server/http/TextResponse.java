package leanladder.server.http;

/** A text that is answered as it is. @param type its media type */
public record TextResponse(String type, String text) {}
