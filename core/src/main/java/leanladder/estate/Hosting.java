package leanladder.estate;

import java.util.List;

/**
 * What workspaces run on, often several on one (resolution.md, section 1).
 *
 * @param size one of the catalogue's
 * @param running whether it is running; otherwise it is paused
 * @param keepers ids of the accounts that look after it; decides nothing
 */
public record Hosting(String id, String name, String size, boolean trial, boolean running, List<String> keepers) {}
