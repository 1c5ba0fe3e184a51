package leanladder.server.http;

/** Bytes that are answered as they are. @param type their media type */
public record BinaryResponse(String type, byte[] content) {}
