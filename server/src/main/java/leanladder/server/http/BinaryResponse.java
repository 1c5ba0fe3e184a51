package leanladder.server.http;

/** A response body of bytes. @param type the media type */
public record BinaryResponse(String type, byte[] content) {}
