"""When may hands touch this film?"""
